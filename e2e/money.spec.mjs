import { expect, test } from "./turret.mjs";

const ready = (page) => expect(page.getByRole("grid")).toBeVisible();
const number = (text) =>
  Math.round(
    Number(
      text
        .replaceAll(",", "")
        .replace("−", "-")
        .replace(/[^-0-9.]/g, ""),
    ) * 100,
  );

test("an overrun by the exchange rate alone is seen as such", async ({ page }) => {
  await page.goto("/money");
  const row = page.locator("main tr", { hasText: "Tarn reservoir gates" });
  await expect(row).toContainText("31 Motors and gates €970 k over; exchange rates cost €970 k");
  await page.goto("/money?scope=BR-03");
  const fact = (name) => page.locator("dl.facts > div", { hasText: name }).locator("dd a");
  await expect(fact("Volume")).toHaveText("€0");
  await expect(fact("Exchange rates")).toHaveText("−€970 k");
  await fact("Exchange rates").click();
  await expect(page.locator("#margin")).toContainText("Actual cost at plan rates");
  await page.locator("#margin summary", { hasText: "Actual cost at plan rates" }).click();
  await page.locator("#margin details[open] > ul summary", { hasText: "31 Motors and gates" }).first().click();
  await expect(page.locator("#margin")).toContainText(/SEK at 0\.0862/);
  await expect(page.locator("#margin")).toContainText(/actuals-20\d\d-\d\d\.csv, row \d+/);
});

test("a raised budget stands beside the forecast that was not touched", async ({ page }) => {
  await page.goto("/money/changes?scope=BR-06");
  await expect(page.locator("h1")).toContainText("Approved so far: €594 k on an original budget of €6.60 M");
  const row = page.locator("main tbody tr").first();
  await expect(row).toContainText("Reach D added");
  await expect(row).toContainText("D. Achterberg 20 Aug 2026");
  await page.goto("/projects/BR-06/money");
  await expect(page.locator("h1")).toContainText("€825 k under budget");
});

test("a service that earns shows its shrinking margin", async ({ page }) => {
  await page.goto("/money/revenue");
  const row = page.locator("main tbody tr", { hasText: "Berth booking service" }).first();
  const cells = await row.locator("td.num").allTextContents();
  const [planned, now, sofar] = cells.slice(-3).map((t) => Number(t.replace("−", "-").replace(" %", "")));
  expect(planned).toBeGreaterThan(now);
  expect(now).toBeGreaterThan(sofar);
  await expect(page.locator("main")).toContainText("Private boat owners");
  await expect(page.getByRole("heading", { name: "The largest billings to come" })).toBeVisible();
  await row.getByRole("link", { name: "Berth booking service" }).click();
  await expect(page).toHaveURL(/\/projects\/BV-05\/money/);
});

test("a project without earned value is told by budget and time", async ({ page }) => {
  await page.goto("/money/projects");
  await expect(page.locator("main tr", { hasText: "Reservoir access roads" }).locator("svg")).toHaveAttribute(
    "aria-label",
    /72\.\d % of the budget spent, 61\.\d % of the time passed/,
  );
});

test("the curve leads from a month to its rows", async ({ page }) => {
  await page.goto("/money?scope=LW-07");
  const month = page.locator("svg a", { has: page.locator("title", { hasText: "September 2026" }) });
  await expect(month.locator("title").first()).toContainText(/budget €[\d,.]+; actual €[\d,.]+; added up: budget €/);
  await month.focus();
  await page.keyboard.press("Enter");
  await expect(page.locator("#margin h2")).toHaveText("September 2026");
  await page.locator("#margin summary", { hasText: "Actual cost" }).click();
  await expect(page.locator("#margin")).toContainText("Own staff");
});

test("any currency is shown by a switch and kept in the address", async ({ page }) => {
  await page.goto("/money");
  await page.locator("select[name=currency]").selectOption("SEK");
  await expect(page.locator("h1")).toContainText("SEK 691.9 M of SEK 1,064.2 M");
  await page.getByRole("link", { name: "Year", exact: true }).click();
  await expect(page).toHaveURL(/currency=SEK/);
  await expect(page.locator("h1")).toContainText("SEK");
  await page.locator("select[name=currency]").selectOption("EUR");
  await expect(page.locator("h1")).toContainText("€");
  const answer = await page.goto("/money?currency=JPY");
  expect(answer.status()).toBe(404);
});

test("a table of money: grouped, its columns chosen, downloaded as it is shown", async ({ page }) => {
  await page.goto("/money/projects");
  await page.getByLabel("grouped by").selectOption("cost centre");
  await expect(page.locator("tr.group").first()).toContainText("CIV");
  await page.locator("summary", { hasText: "Measures" }).click();
  for (const box of await page.getByRole("checkbox").all()) await box.uncheck();
  await page.getByLabel("Budget at completion", { exact: true }).check();
  await page.getByLabel("Original budget").check();
  await page.getByLabel("Approved changes").check();
  await page.getByRole("button", { name: "Show these" }).click();
  await expect(page.locator("thead th")).toHaveText(["Project", "Budget at completion", "Original budget", "Approved changes"]);
  const csv = await (await page.request.get(await page.getByRole("link", { name: "CSV" }).getAttribute("href"))).text();
  const rows = csv
    .trim()
    .split("\n")
    .map((l) => l.split(","));
  expect(rows[0]).toEqual(["group", "project", "name", "as_of", "currency", "bac", "budget_original", "budget_changes"]);
  for (const k of [1, 2, 3]) {
    const sum = rows.slice(1, -1).reduce((s, r) => s + number(r.at(-k)), 0);
    expect(sum, `column ${k} from the right`).toBe(number(rows.at(-1).at(-k)));
  }
});

test("funding names who pays and what is drawn too early", async ({ page }) => {
  await page.goto("/money/funding");
  await expect(page.locator("h1")).toContainText("3 shares drawn ahead of cost");
  const town = page.locator("main table").first().locator("tr", { hasText: "Town of Hallin" });
  await expect(town.locator("td").last()).toHaveText("€129 k");
});

test("the grid adds up as the figures above it do, however it is grouped", async ({ page }) => {
  for (const path of [
    "/projects/LW-07/money",
    "/projects/BR-03/money",
    "/projects/BR-02/money?rows=budget",
    "/projects/BR-03/money?rows=commitment",
    "/projects/LW-07/money?currency=GBP",
  ]) {
    await page.goto(path);
    await ready(page);
    const still = number(await page.locator("[data-money-still] tfoot td").last().textContent());
    expect(number(await page.locator("[data-total]").textContent()), path).toBe(still);
    for (const group of ["centre", "supplier"]) {
      await page.locator(`[data-spare] [data-group=${group}]`).click();
      expect(number(await page.locator("[data-total]").textContent()), path).toBe(still);
    }
    while (await page.locator("[data-chips] .chip").count()) await page.locator("[data-chips] .chip").first().click();
    expect(number(await page.locator("[data-total]").textContent()), path).toBe(still);
    const rows = await page.locator(".money-grid tbody tr[data-y] td.sum").allTextContents();
    expect(
      rows.reduce((s, t) => s + number(t), 0),
      path,
    ).toBe(still);
  }
});

test("groups are put in another order by dragging, and taken away by a click", async ({ page }) => {
  await page.goto("/projects/LW-07/money");
  await ready(page);
  const chips = page.locator("[data-chips] .chip");
  await page
    .locator("[data-spare]")
    .getByText("Cost centre")
    .dragTo(chips.nth(0), { targetPosition: { x: 60, y: 10 } });
  await expect(chips).toHaveText(["Cost code ×", "Cost centre ×"]);
  await expect(page.locator(".money-grid tr.group").first()).toContainText("1 Labour");
  await chips.nth(1).dragTo(chips.nth(0), { targetPosition: { x: 4, y: 10 } });
  await expect(chips).toHaveText(["Cost centre ×", "Cost code ×"]);
  await expect(page.locator(".money-grid tr.group").first()).toContainText("CIV");
  await chips.nth(0).click();
  await expect(chips).toHaveText(["Cost code ×"]);
});

test("files of a project's money are what the page shows", async ({ page }) => {
  await page.goto("/projects/BR-03/money");
  await ready(page);
  const total = number(await page.locator("[data-total]").textContent());
  const at = async (name) => page.request.get(await page.getByRole("link", { name, exact: true }).getAttribute("href"));
  const rows = await (await at("JSON")).json();
  expect(rows.reduce((sum, r) => sum + number(r.amount_eur), 0)).toBe(total);
  const lines = (await (await at("CSV")).text()).trim().split("\n").slice(1);
  expect(lines).toHaveLength(rows.length);
  const book = await at("XLSX");
  expect(book.headers()["content-disposition"]).toContain("BR-03-money.xlsx");
  expect((await book.body()).subarray(0, 2).toString()).toBe("PK");
});

test("versions: from the one estimate to the other, and named ones found again", async ({ page }) => {
  await page.goto("/projects/BV-05/money/versions");
  await expect(page.locator("h1")).toContainText("The estimate went from €2.16 M to €2.19 M, +€32 k.");
  await page.locator("summary", { hasText: "The steps as a table" }).click();
  const steps = page.locator("main details table tbody tr");
  await expect(steps).toHaveCount(6);
  const parts = [];
  for (const row of (await steps.all()).slice(0, 5)) parts.push(number(await row.locator("td").nth(1).textContent()));
  expect(parts.reduce((a, b) => a + b, 0)).toBeGreaterThan(31_000_00);
  expect(parts.reduce((a, b) => a + b, 0)).toBeLessThan(33_000_00);
  await page.getByRole("link", { name: "Budget", exact: true }).click();
  await expect(page.locator("main")).toContainText("The two are alike, line by line.");
});

test("burn: whose budget is gone before the work ends", async ({ page }) => {
  await page.goto("/money/burn");
  const first = page.locator("main tbody tr").first();
  await expect(first).toContainText("Hallin Lock rebuild");
  await first.getByRole("link", { name: "5 months" }).click();
  await expect(page.locator("#margin")).toContainText("Months from the one in which the budget runs out to that of the expected finish");
  await expect(page.locator("#margin")).toContainText("31 Dec 2026");
});

test("quarters and years add up the months and cannot be typed into", async ({ page }) => {
  await page.goto("/projects/LW-07/money");
  await ready(page);
  const total = await page.locator("[data-total]").textContent();
  await page.locator("[data-pick=step]").selectOption("year");
  await expect(page.locator(".money-grid thead th")).toHaveText(["Line", "2025", "2026", "2027", "In all, EUR"]);
  await expect(page.locator("[data-total]")).toHaveText(total);
  await page.getByRole("grid").focus();
  await page.keyboard.press("Control+End");
  await page.keyboard.type("5");
  await expect(page.locator("[data-money-say]")).toContainText("by the month");
  await page.locator("[data-pick=step]").selectOption("quarter");
  await expect(page.locator(".money-grid thead th").nth(1)).toHaveText("2025 Q3");
});

test.describe("changing a forecast", () => {
  test.use({ baseURL: "http://127.0.0.1:8179" });
  test.describe.configure({ mode: "serial" });
  const grid = (page) => page.getByRole("grid");
  const say = (page) => page.locator("[data-money-say]");
  const cellOf = async (page, line, month) => {
    const heads = await page.locator(".money-grid thead th").allTextContents();
    return page
      .locator(".money-grid tbody tr", { hasText: line })
      .locator("td")
      .nth(heads.indexOf(month) - 1);
  };
  const middle = async (cell) => {
    const box = await cell.boundingBox();
    return [box.x + box.width / 2, box.y + box.height / 2];
  };
  const paste = (page, text) =>
    page.evaluate((t) => {
      const data = new DataTransfer();
      data.setData("text/plain", t);
      document.activeElement.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));
    }, text);

  test("forty lines are typed and pasted by keyboard alone, saved with a reason and found again", async ({ page }) => {
    await page.goto("/projects/FW-06/money");
    await ready(page);
    const before = number(await page.locator("[data-total]").textContent());
    const first = page.locator("[data-money-add] select[name=code]");
    for (let i = 0; i < 40; i++) {
      await first.focus();
      await page.keyboard.type(i % 2 ? "11 " : "21 ");
      for (let k = 0; k < 3; k++) await page.keyboard.press("Tab"); // cost centre, currency, note
      await page.keyboard.type(`work package ${String(i + 1).padStart(2, "0")}`);
      await page.keyboard.press("Enter");
    }
    await expect(page.locator(".money-grid tbody tr", { hasText: "work package 40" })).toBeVisible();
    for (const chip of await page.locator("[data-chips] .chip").all()) {
      // the grid without groups: forty lines one below the other
      await chip.focus();
      await page.keyboard.press("Enter");
    }
    // Type the first line, then paste the whole block over all forty.
    await grid(page).focus();
    await page.keyboard.press("Control+Home");
    const at = async () => page.locator(".money-grid .here").locator("xpath=..").locator("th").textContent();
    for (let i = 0; i < 60 && !(await at()).includes("work package 01"); i++) await page.keyboard.press("ArrowDown");
    const heads = await page.locator(".money-grid thead th").allTextContents();
    for (let i = 0; i < heads.indexOf("Nov 26") - 1; i++) await page.keyboard.press("ArrowRight");
    await page.keyboard.type("1200.5");
    await page.keyboard.press("Tab");
    await page.keyboard.type("1,300");
    await page.keyboard.press("Enter");
    await page.keyboard.press("ArrowUp");
    await page.keyboard.press("ArrowLeft");
    await expect(await cellOf(page, "work package 01", "Nov 26")).toHaveText("1,200.50");
    const block = Array.from({ length: 40 }, (_, i) => Array.from({ length: 6 }, (_, k) => `${100 + i + k}.25`).join("\t")).join("\n");
    await paste(page, block);
    await expect(say(page)).toContainText("Pasted 40 by 6.");
    let added = 0;
    for (let i = 0; i < 40; i++) for (let k = 0; k < 6; k++) added += (100 + i + k) * 100 + 25;
    expect(number(await page.locator("[data-total]").textContent())).toBe(before + added);
    await expect(page.locator("[data-money-count]")).toHaveText("240 cells changed");
    await page.keyboard.press("Control+s");
    await page.keyboard.type("work packages of the contractor");
    await page.keyboard.press("Enter");
    await expect(page.locator(".done")).toContainText("Saved as a revision");
    await ready(page);
    expect(number(await page.locator("[data-total]").textContent())).toBe(before + added);
    await page.goto("/projects/FW-06/money/versions");
    await expect(page.locator("main")).toContainText("work packages of the contractor");
    await expect(page.locator("h1")).toContainText(`+€${Math.round(added / 100000)} k`);
  });

  test("fill, move, spread, copy a year on, undo and redo", async ({ page }) => {
    await page.goto("/projects/FW-06/money");
    await ready(page);
    const line = "work package 07";
    await (await cellOf(page, line, "Nov 26")).click();
    await page.keyboard.type("500");
    await page.keyboard.press("Enter");
    await (await cellOf(page, line, "Nov 26")).click();
    await page.keyboard.press("Shift+ArrowRight");
    await page.keyboard.press("Shift+ArrowRight");
    await page.keyboard.press("Control+r");
    await expect(await cellOf(page, line, "Jan 27")).toHaveText("500.00");
    await expect(await cellOf(page, line, "Feb 27")).toHaveText("109.25");
    await page.keyboard.press("Alt+ArrowRight"); // Nov to Jan become Dec to Feb, added to what stands there
    await expect(await cellOf(page, line, "Nov 26")).toHaveText("");
    await expect(await cellOf(page, line, "Feb 27")).toHaveText("609.25");
    await page.keyboard.press("Control+z");
    await expect(await cellOf(page, line, "Feb 27")).toHaveText("109.25");
    await page.keyboard.press("Control+y");
    await expect(await cellOf(page, line, "Feb 27")).toHaveText("609.25");
    // With the mouse: what is selected is carried along the months, and where it is let go it is added.
    await page.keyboard.press("Control+z");
    await (await cellOf(page, line, "Dec 26")).click();
    await (await cellOf(page, line, "Dec 26")).dragTo(await cellOf(page, line, "Mar 27"));
    await expect(say(page)).toHaveText("Moved 500.00 EUR by 3 months; Ctrl+Z takes it back.");
    await expect(await cellOf(page, line, "Dec 26")).toHaveText("");
    await expect(await cellOf(page, line, "Mar 27")).toHaveText("610.25");
    await (await cellOf(page, line, "Mar 27")).dragTo(await cellOf(page, line, "Oct 26"));
    await expect(say(page)).toContainText("no open month to move to");
    await expect(await cellOf(page, line, "Mar 27")).toHaveText("610.25");
    await (await cellOf(page, line, "Jan 27")).scrollIntoViewIfNeeded();
    await (await cellOf(page, line, "Mar 27")).hover();
    await page.mouse.down();
    await page.mouse.move(...(await middle(await cellOf(page, line, "Jan 27"))), { steps: 4 });
    await expect(await cellOf(page, line, "Jan 27")).toHaveClass(/target/);
    await page.keyboard.press("Escape");
    await page.mouse.up();
    await expect(await cellOf(page, line, "Mar 27")).toHaveText("610.25");
    await page.keyboard.press("Control+z");
    await expect(await cellOf(page, line, "Dec 26")).toHaveText("500.00");
    await (await cellOf(page, line, "Nov 26")).click();
    await page.keyboard.press("ArrowDown");
    await page.getByRole("button", { name: "Spread…" }).click();
    await page.getByLabel("Amount, EUR").fill("1000");
    await page.getByRole("dialog").getByLabel("From").fill("2026-11-02");
    await page.getByRole("dialog").getByLabel("to", { exact: true }).fill("2026-12-18");
    await page.getByRole("button", { name: "Spread", exact: true }).click();
    // 21 and 14 working days.
    await expect(await cellOf(page, "work package 09", "Nov 26")).toHaveText("600.00");
    await expect(await cellOf(page, "work package 09", "Dec 26")).toHaveText("400.00");
    await page.getByRole("button", { name: "Copy a year on" }).click();
    await expect(await cellOf(page, "work package 09", "Nov 27")).toHaveText("600.00");
    page.on("dialog", (d) => d.accept());
  });

  test("what cannot be pasted or typed is refused whole, and says why", async ({ page }) => {
    await page.goto("/projects/FW-06/money");
    await ready(page);
    const total = await page.locator("[data-total]").textContent();
    await (await cellOf(page, "work package 01", "Nov 26")).click();
    await paste(page, "1\t2\nsoon\t4");
    await expect(say(page)).toContainText("Line 2 of the block, Nov 26: “soon” is no amount; nothing was pasted.");
    const room =
      (await page.locator(".money-grid thead th").count()) -
      2 -
      ((await page.locator(".money-grid thead th").allTextContents()).indexOf("Nov 26") - 1);
    await paste(
      page,
      Array(room + 4)
        .fill("1")
        .join("\t"),
    );
    await expect(say(page)).toContainText(`The block has ${room + 4} months and there are ${room} from here; nothing was pasted.`);
    await paste(page, "100000000000000");
    await expect(say(page)).toContainText("beyond the largest amount");
    await page.keyboard.type("12,34,5");
    await page.keyboard.press("Enter");
    await expect(say(page)).toContainText("is no amount");
    await page.keyboard.press("Escape");
    await page.keyboard.type("x");
    await expect(say(page)).toContainText("“x” begins no amount");
    await (await cellOf(page, "work package 01", "Nov 26")).click();
    await page.keyboard.press("ArrowLeft");
    await page.keyboard.type("5");
    await expect(say(page)).toContainText("This month has ended");
    await expect(page.locator("[data-total]")).toHaveText(total);
    await expect(page.locator("[data-money-count]")).toHaveText("nothing changed");
  });

  test("two people at the same cell: the second is told and loses nothing", async ({ page, browser }) => {
    await page.goto("/projects/FW-06/money");
    await ready(page);
    const context = await browser.newContext({ baseURL: "http://127.0.0.1:8179" });
    const other = await context.newPage();
    await other.request.post("/enter", { form: { login: "osei", to: "/healthz" } });
    await other.goto("/projects/FW-06/money");
    await ready(other);
    for (const [who, amount, month] of [
      [other, "777", "Nov 26"],
      [page, "888", "Nov 26"],
      [page, "999", "Dec 26"],
    ]) {
      await (await cellOf(who, "work package 02", month)).click();
      await who.keyboard.type(amount);
      await who.keyboard.press("Enter");
    }
    await other.getByLabel("Why").fill("mine first");
    await other.getByRole("button", { name: "Save as a revision" }).click();
    await expect(other.locator(".done")).toBeVisible();
    await page.getByLabel("Why").fill("mine too");
    await page.getByRole("button", { name: "Save as a revision" }).click();
    await expect(say(page)).toContainText("yours “888.00”, theirs “777.00”");
    const cell = await cellOf(page, "work package 02", "Nov 26");
    await expect(cell).toHaveAttribute("aria-invalid", "true");
    await expect(cell).toHaveText("888.00");
    await context.close();
    page.on("dialog", (d) => d.accept());
  });

  test("a change is asked for, decided, and in the budget", async ({ page }) => {
    await page.goto("/money/changes?scope=FW");
    await page.locator("summary", { hasText: "Ask for a change" }).click();
    await page.locator("select[name=project]").selectOption("FW-04");
    await page.getByLabel("Reference").fill("FW-04-C1");
    await page.getByLabel("What for").fill("A second pond");
    await page.getByLabel("Effect on the budget").fill("25000");
    await page.locator("form.asking select[name=cost_code]").selectOption("21");
    await page.getByLabel("Because").last().fill("The first one leaks");
    await page.getByRole("button", { name: "Ask", exact: true }).click();
    const row = page.locator("main tbody tr", { hasText: "A second pond" });
    await expect(row).toContainText("requested");
    await row.locator("summary").click();
    await row.getByLabel("Because").fill("agreed by the board");
    await row.getByRole("button", { name: "Approve" }).click();
    await expect(page.locator("main tbody tr", { hasText: "A second pond" })).toContainText("agreed by the board");
    await page.goto("/projects/FW-04/money?rows=budget");
    await ready(page);
    await expect(page.locator(".money-grid tbody tr", { hasText: "FW-04-C1" }).locator("td.sum")).toHaveText("25,000.00");
  });
});
