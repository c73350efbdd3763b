import { expect, test } from "./turret.mjs";

const ready = (page) => expect(page.locator("[data-ready=yes]")).toBeVisible();

test("whose delay hits whom is found in three clicks", async ({ page }) => {
  await page.goto("/");
  await page.getByRole("link", { name: "Timeline" }).first().click();
  await page.locator("h1 a", { hasText: "dependencies" }).click();
  const first = page.locator("main tbody tr").first();
  await expect(first).toContainText("Crane barge refit");
  await expect(first).toContainText("Eel passes, lower Ostrel");
  await expect(first).toContainText("at risk");
  await expect(page.locator("main tbody tr").nth(1)).toContainText("Ashby weir apron");
  await first.getByRole("link", { name: "M3 Sea trial passed" }).click();
  await expect(page.locator("#margin .figure")).toHaveText("+61");
  await expect(page.locator("#margin")).toContainText("Finish by the network");
  await expect(page.locator("#margin")).toContainText(/activities-2026-10\.csv, row \d+/);
});

test("the milestone that keeps moving is named at once", async ({ page }) => {
  await page.goto("/timeline/slips");
  await expect(page.locator("h1")).toContainText("LW-02 Power to the last twelve weirs, 6 times in a row, by 119 working days");
  await expect(page.locator("main svg").first()).toContainText("LW-02 Power to the last twelve weirs +119");
  const row = page.locator("main tbody tr").first();
  await expect(row.locator("td.num").first()).toHaveText("2 Nov 2026");
  await expect(row.locator("td.num").nth(6)).toHaveText("21 Apr 2027");
});

// The browser draws statuses as the pages do: the same symbol in the same colour, seen.
test("a status is the same mark in the timeline as in the list", async ({ page }) => {
  const mark = (row) =>
    row
      .locator("svg use")
      .first()
      .evaluate((use) => {
        const shapes = document.querySelector(`.symbols ${use.getAttribute("href")}`);
        const { fill, stroke } = getComputedStyle(use);
        const { width, height } = use.getBoundingClientRect();
        return { shapes: shapes.innerHTML, fill, stroke, seen: width > 8 && height > 3 };
      });
  const marks = {};
  await page.goto("/projects");
  for (const code of ["BR-01", "BR-05", "BR-03"]) marks[code] = await mark(page.locator("main tr", { hasText: code }));
  expect(new Set(Object.values(marks).map((m) => m.shapes + m.fill)).size, "three statuses").toBe(3);
  await page.goto("/timeline");
  await ready(page);
  for (const [code, was] of Object.entries(marks)) {
    expect(was.seen, code).toBe(true);
    expect(await mark(page.locator(".tl-row", { hasText: code })), code).toEqual(was);
  }
});

test("a slip is rehearsed and its two victims are named", async ({ page }) => {
  await page.goto("/timeline/rehearsal");
  await page.getByLabel("Activity").fill("LW-11 M3");
  await page.getByLabel("later by").fill("20");
  await page.getByRole("button", { name: "Run" }).click();
  await expect(page.locator("h1")).toContainText("hit from outside: FW-01 Eel passes, lower Ostrel, LW-05 Ashby weir apron.");
  const row = page.locator("main tr", { hasText: "M4 Open for use" });
  await expect(row).toContainText("LW-11 M3 Sea trial passed");
  await expect(row.locator("td.num").nth(2)).toHaveText("+20");
  await page.getByRole("link", { name: "compare" }).or(page.getByText("Saved as “Slewing ring four weeks later”")).first().waitFor();
  await page.getByLabel("Activity").fill("LW-11 P9");
  await page.getByRole("button", { name: "Add and run" }).click();
  await expect(page.getByRole("alert")).toContainText("expected the code of a project and of an activity in it");
  await expect(page.getByLabel("Activity")).toHaveValue("LW-11 P9");
});

test("the table of milestones sorts by any column", async ({ page }) => {
  await page.goto("/timeline/milestones?state=delayed");
  const days = async () =>
    (await page.locator("main tbody td.num:nth-of-type(6)").allTextContents()).map((t) => Number(t.replace("−", "-").replace("+", "")));
  await page.getByRole("button", { name: "Days" }).focus();
  await page.keyboard.press("Enter");
  const up = await days();
  expect(up).toEqual([...up].sort((a, b) => a - b));
  await page.keyboard.press("Enter");
  expect((await days())[0]).toBe(119);
  await expect(page.locator("main tbody tr").first()).toContainText("Power to the last twelve weirs");
  await expect(page.locator("th[aria-sort=descending]")).toHaveText("Days");
});

test("the timeline is walked by keyboard alone", async ({ page }) => {
  await page.goto("/timeline?scope=LW");
  await ready(page);
  const tree = page.getByRole("tree");
  await tree.focus();
  const active = () =>
    page.evaluate(() => {
      const t = document.querySelector("[data-timeline]").timeline;
      return t.rows[t.active].key;
    });
  for (let i = 0; i < 60 && (await active()) !== "LW-11"; i++) await page.keyboard.press("ArrowDown");
  await page.keyboard.press("ArrowRight");
  await expect
    .poll(() => page.evaluate(() => document.querySelector("[data-timeline]").timeline.rows.some((r) => r.key === "LW-11 M3")))
    .toBe(true);
  for (let i = 0; i < 60 && (await active()) !== "LW-11 M3"; i++) await page.keyboard.press("ArrowDown");
  await expect(page.getByRole("treeitem", { name: /M3 Sea trial passed/ })).toHaveAttribute("aria-selected", "true");
  const tip = page.locator(".tl-tip");
  await expect(tip).toContainText("3 Feb 2027");
  await expect(tip).toContainText("61 working days later");
  await expect(tip).toContainText(/float -?\d+ working days/);
  await expect(tip).toContainText("waits for P3.8");
  const wide = () => page.evaluate(() => document.querySelector("[data-timeline]").timeline.scale.perDay);
  const before = await wide();
  await page.keyboard.press("+");
  expect(await wide()).toBeGreaterThan(before * 1.3);
  for (let i = 0; i < 30; i++) await page.keyboard.press("+");
  expect(
    await page.evaluate(() => {
      const s = document.querySelector("[data-timeline]").timeline.scale;
      return s.width / s.perDay;
    }),
  ).toBeCloseTo(7, 3);
  for (let i = 0; i < 40; i++) await page.keyboard.press("-");
  expect(
    await page.evaluate(() => {
      const s = document.querySelector("[data-timeline]").timeline.scale;
      return s.width / s.perDay;
    }),
  ).toBeCloseTo(1830, 0);
  await page.keyboard.press("0");
  await page.keyboard.press("Enter");
  await expect(page.locator("#margin h2")).toContainText("Sea trial passed");
  await page.keyboard.press("Escape");
  await expect(page.locator("#margin")).toBeEmpty();
});

test("wheel and drag zoom and move the axis, the as-of line stays at its day", async ({ page }) => {
  await page.goto("/timeline");
  await ready(page);
  const box = await page.locator(".tl-body").boundingBox();
  const scale = () =>
    page.evaluate(() => {
      const s = document.querySelector("[data-timeline]").timeline.scale;
      return { left: s.left, perDay: s.perDay };
    });
  const before = await scale();
  await page.mouse.move(box.x + 300, box.y + 60);
  await page.keyboard.down("Control");
  await page.mouse.wheel(0, -300);
  await page.keyboard.up("Control");
  await expect.poll(async () => (await scale()).perDay).toBeGreaterThan(before.perDay * 1.5);
  const zoomed = await scale();
  expect(zoomed.left + 300 / zoomed.perDay).toBeCloseTo(before.left + 300 / before.perDay, 3);
  await page.mouse.move(box.x + 500, box.y + 12);
  await page.mouse.down();
  await page.mouse.move(box.x + 400, box.y + 12, { steps: 3 });
  await page.mouse.up();
  await expect.poll(async () => (await scale()).left).toBeCloseTo(zoomed.left + 100 / zoomed.perDay, 3);
  const at = await scale();
  const day = Date.UTC(2026, 9, 31) / 864e5 + 719163;
  const line = await page.locator(".tl-body line.asof").getAttribute("x1");
  expect(Number(line)).toBeCloseTo((day + 1 - at.left) * at.perDay, 0);
});

test("filters and grouping stay in the address, and files hold what is shown", async ({ page }) => {
  await page.goto("/timeline");
  await page.getByRole("combobox", { name: "By" }).selectOption("lead");
  await page.getByRole("combobox", { name: "State" }).selectOption("missed");
  await expect(page).toHaveURL(/group=lead/);
  await ready(page);
  await expect(page.getByRole("treeitem").filter({ hasText: "FW-01" })).toBeVisible();
  await expect(page.getByRole("treeitem")).toHaveCount(4);
  const csv = await (await page.request.get(await page.getByRole("link", { name: "CSV" }).getAttribute("href"))).text();
  expect(csv.trim().split("\n").length).toBe(5);
  expect(csv).toContain("FW-01,M3,First season planted,milestone,portfolio,missed");
  for (const name of ["XLSX", "SVG", "PDF A3", "PDF A4"]) {
    const answer = await page.request.get(await page.getByRole("link", { name, exact: true }).getAttribute("href"));
    expect(answer.ok()).toBe(true);
    expect((await answer.body()).length).toBeGreaterThan(1000);
  }
});

test("works without scripts too", async ({ browser }) => {
  const context = await browser.newContext({ javaScriptEnabled: false });
  const page = await context.newPage();
  await page.request.post("/enter", { form: { login: "osei", to: "/healthz" } });
  await page.goto("/timeline");
  await expect(page.locator("main svg")).toContainText("Crane barge refit");
  await page.goto("/timeline/calendar?view=quarter");
  await expect(page.locator("main caption").first()).toHaveText("October 2026");
  await context.close();
});

test("when the data does not arrive the still drawing stays", async ({ page }) => {
  await page.route("**/timeline/data.json*", (route) => route.abort());
  await page.goto("/timeline");
  await expect(page.getByRole("alert").filter({ hasText: "did not arrive" })).toContainText("Try again");
  await expect(page.locator(".tl-still svg")).toBeVisible();
});

test("the calendar is subscribed to by an address", async ({ page }) => {
  await page.goto("/timeline/calendar?scope=LW");
  await expect(page.locator("h1")).toContainText("November 2026");
  await page.getByRole("link", { name: "After", exact: true }).click();
  await expect(page.locator("h1")).toContainText("December 2026");
  await page.getByRole("button", { name: "Make an address to subscribe to" }).click();
  const address = await page.locator("[data-subscription]").textContent();
  const answer = await fetch(address);
  expect(answer.headers.get("content-type")).toContain("text/calendar");
  const text = await answer.text();
  expect(text).toContain("SUMMARY:Sea trial passed (LW-11)");
  expect(text).not.toContain("(FW-01)");
});

test.describe("changes", () => {
  test.describe.configure({ mode: "serial" });
  test.use({ baseURL: "http://127.0.0.1:8179" });

  async function bar(page, code) {
    const at = await page.evaluate((code) => {
      const t = document.querySelector("[data-plan]").plan.timeline;
      const row = t.rows.find((r) => r.code === code);
      t.scroll.scrollTop = row.y - 60;
      return { code, y: row.y, h: row.h, start: t.scale.x(row.bar[0]), end: t.scale.x(row.bar[1] + 1), perDay: t.scale.perDay };
    }, code);
    const box = await page.locator(".tl-scroll").boundingBox();
    const body = await page.locator(".tl-body").boundingBox();
    const top = await page.evaluate(() => document.querySelector(".tl-scroll").scrollTop);
    return { ...at, x0: body.x, y: box.y + at.y - top + at.h / 2 };
  }

  async function drag(page, from, to, y, toY = y) {
    await page.mouse.move(from, y);
    await page.mouse.down();
    await page.mouse.move((from + to) / 2, y, { steps: 3 });
    await page.mouse.move(to, toY, { steps: 3 });
    await page.mouse.up();
  }

  test("a bar is dragged, the network answers, undo takes it back", async ({ page }) => {
    await page.goto("/projects/LW-11/plan");
    await ready(page);
    const b = await bar(page, "P4.1");
    await drag(page, b.x0 + b.start + 4, b.x0 + b.start + 4 + 28 * b.perDay, b.y);
    const answer = page.locator("[data-plan-answer]");
    await expect(answer).toContainText("1 change, not saved.");
    await expect(answer).toContainText("LW-11 M4 Barge back on station");
    const before = await page.getByLabel("P4.1 start").inputValue();
    await page.getByRole("button", { name: "Undo" }).click();
    await expect(answer).toContainText("Drag a bar to move it");
    await expect(page.getByLabel("P4.1 start")).not.toHaveValue(before);
    await page.getByRole("button", { name: "Redo" }).click();
    await expect(page.getByLabel("P4.1 start")).toHaveValue(before);
    await page.keyboard.press("Control+z");
    await expect(answer).toContainText("Drag a bar to move it");
  });

  test("an end is dragged, a link is drawn, both are saved as a revision with a reason", async ({ page }) => {
    await page.goto("/projects/LW-11/plan");
    await ready(page);
    let b = await bar(page, "P4.2");
    await drag(page, b.x0 + b.end - 1, b.x0 + b.end - 1 + 14 * b.perDay, b.y);
    await expect(page.locator("[data-plan-answer]")).toContainText("1 change, not saved.");
    const to = await bar(page, "M4");
    b = await bar(page, "D3");
    const rows = await page.evaluate(() => {
      const t = document.querySelector("[data-plan]").plan.timeline;
      return [t.rows.find((r) => r.code === "D3").y, t.rows.find((r) => r.code === "M4").y];
    });
    await drag(page, b.x0 + b.end + 9, b.x0 + b.end + 40, b.y, b.y + (rows[1] - rows[0]));
    await expect(page.locator("[data-plan-answer]")).toContainText("2 changes, not saved.");
    await expect(page.getByLabel("M4 predecessors")).toHaveValue(/D3/);
    expect(to.code).toBe("M4");
    await page.getByRole("button", { name: "Save as a revision" }).click();
    await page.getByLabel("Why").fill("The yard works to the new ring");
    await page.getByRole("button", { name: "Save as a revision" }).click();
    await expect(page.getByText("Saved as a revision for")).toBeVisible();
    await page.getByRole("link", { name: "Versions and baselines" }).click();
    await expect(page.locator("select[name=is] option").first()).toContainText("The yard works to the new ring");
    await expect(page.locator("h1")).toContainText("1 stretched");
    await expect(page.locator("tr", { hasText: "Barge back on station" })).toContainText("linked otherwise");
    await page.getByLabel("Set the present plan as baseline").fill("After the ring");
    await page.getByLabel("because").fill("Agreed with the sites");
    await page.getByRole("button", { name: "Set", exact: true }).click();
    await expect(page.locator("tr", { hasText: "After the ring" })).toContainText("Agreed with the sites");
  });

  test("a save that does not arrive says so and keeps what was changed", async ({ page }) => {
    await page.goto("/projects/LW-07/plan");
    await ready(page);
    await page.getByLabel("P3.6 name").fill("Foundations of the machines");
    await page.getByLabel("P3.6 name").press("Enter");
    await expect(page.locator("[data-plan-answer]")).toContainText("1 change, not saved.");
    await page.route("**/projects/LW-07/plan", (route) => (route.request().method() === "POST" ? route.abort() : route.continue()));
    await page.getByLabel("Why").fill("clearer");
    await page.getByRole("button", { name: "Save as a revision" }).click();
    await expect(page.getByRole("alert").filter({ hasText: "did not arrive" })).toContainText("What you changed is still here");
    await page.unroute("**/projects/LW-07/plan");
    await page.getByRole("button", { name: "Save as a revision" }).click();
    await expect(page.getByText("Saved as a revision for")).toBeVisible();
    await expect(page.getByLabel("P3.6 name")).toHaveValue("Foundations of the machines");
  });

  test("progress and a beginning are dragged", async ({ page }) => {
    await page.goto("/projects/LW-07/plan");
    await ready(page);
    const running = await bar(page, "P3.2");
    const was = Number(await page.getByLabel("P3.2 percent complete").inputValue());
    const wide = running.end - running.start;
    await drag(page, running.x0 + running.start + (wide * was) / 100, running.x0 + running.start + wide * 0.9, running.y);
    await expect(page.getByLabel("P3.2 percent complete")).not.toHaveValue(String(was));
    const later = await bar(page, "P3.5");
    const finish = await page.getByLabel("P3.5 finish").inputValue();
    const start = await page.getByLabel("P3.5 start").inputValue();
    await drag(page, later.x0 + later.start + 1, later.x0 + later.start + 1 + 9 * later.perDay, later.y);
    await expect(page.getByLabel("P3.5 start")).not.toHaveValue(start);
    await expect(page.getByLabel("P3.5 finish")).toHaveValue(finish);
  });

  test("dates and predecessors are typed; what cannot be is said at its cell", async ({ page }) => {
    await page.goto("/projects/BV-03/plan");
    await ready(page);
    await page.getByLabel("Find in the table").fill("P3.4");
    const links = page.getByLabel("P3.4 predecessors");
    const was = await links.inputValue();
    await links.fill("P3.99");
    await links.press("Enter");
    await expect(page.getByRole("alert")).toContainText("expected an activity that is there");
    await expect(links).toBeFocused();
    await links.fill(`${was}, LW-11/M4 +2`);
    await links.press("Enter");
    await expect(page.locator("[data-plan-answer]")).toContainText("LW-11 M4");
    await page.getByLabel("P3.4 percent complete").fill("130");
    await page.getByLabel("P3.4 percent complete").press("Enter");
    await expect(page.getByRole("alert")).toContainText("130");
    await page.getByRole("button", { name: "Undo" }).click();
    await expect(links).toHaveValue(was);
  });

  test("what is typed while an answer comes stays, and what is told of a row follows it", async ({ page }) => {
    await page.goto("/projects/BR-06/plan");
    await ready(page);
    const tip = page.locator(".tl-tip");
    await page.locator(".tl-names").focus();
    await page.keyboard.press("ArrowDown");
    await expect(tip).toContainText("working day");
    const before = await tip.textContent();
    await page.keyboard.press(">");
    await expect(page.locator("[data-plan-answer]")).toContainText("1 change, not saved.");
    await expect(tip).not.toHaveText(before);

    let answered;
    const held = new Promise((resolve) => (answered = resolve));
    await page.route("**/plan/answer*", async (route) => {
      await held;
      await route.continue();
    });
    const names = page.locator("[data-plan-rows] input[data-field=name]");
    await names.nth(1).fill("<b>First</b>");
    await names.nth(1).press("Enter");
    await names.nth(2).fill("Second, half writ");
    answered();
    await expect(page.locator("[data-plan-answer]")).toContainText("2 changes, not saved.");
    await expect(names.nth(1)).toHaveValue("<b>First</b>");
    await expect(names.nth(2)).toHaveValue("Second, half writ");
    await expect(names.nth(2)).toBeFocused();
    await page.unrouteAll({ behavior: "wait" });
    page.on("dialog", (dialog) => dialog.accept());
  });

  test("two people at the same bar: the second is told, nothing is lost", async ({ page, browser }) => {
    await page.goto("/projects/LW-05/plan");
    await ready(page);
    const other = await browser.newContext({ baseURL: "http://127.0.0.1:8179" });
    const second = await other.newPage();
    await second.request.post("/enter", { form: { login: "tanaka", to: "/healthz" } });
    await second.goto("/projects/LW-05/plan");
    await ready(second);
    for (const [who, day] of [
      [page, "2027-02-15"],
      [second, "2027-03-01"],
    ]) {
      await who.getByLabel("P4.7 start").fill(day);
      await who.getByLabel("P4.7 start").press("Enter");
      await expect(who.locator("[data-plan-answer]")).toContainText("1 change, not saved.");
      await who.getByLabel("Why").fill("because");
      await who.getByRole("button", { name: "Save as a revision" }).click();
    }
    await expect(page.getByText("Saved as a revision for")).toBeVisible();
    await expect(second.getByRole("alert")).toContainText("yours “2027-03-01”, theirs “2027-02-15”");
    await expect(second.getByLabel("P4.7 start")).toHaveValue("2027-03-01");
    second.on("dialog", (d) => d.accept());
    await other.close();
  });

  test("a milestone is raised by one click, a dependency settled", async ({ page }) => {
    await page.goto("/timeline/milestones?scope=DT&state=slipping");
    const row = page.locator("tr", { hasText: "Handed to operations" }).first();
    await row.getByRole("button", { name: /Report to portfolio level/ }).click();
    await expect(page.locator("tr", { hasText: "Handed to operations" }).first().locator(".level span")).toHaveText("portfolio");
    await expect(page).toHaveURL(/state=slipping/);
    await page.goto("/timeline/dependencies");
    const deal = page.locator("main tbody tr", { hasText: "Eel passes" }).first();
    await deal.getByText("agree", { exact: true }).click();
    await deal.getByLabel("Promised").fill("2026-11-20");
    await deal.getByLabel("both agree").check();
    await deal.getByRole("button", { name: "Save" }).click();
    const now = page.locator("main tbody tr", { hasText: "Eel passes" }).first();
    await expect(now).toContainText("20 Nov 2026");
    await expect(page.locator("main tbody tr", { hasText: "Lift passes 4 to 6" })).toContainText("agreed");
  });
});
