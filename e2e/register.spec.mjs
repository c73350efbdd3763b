import { expect, test } from "./turret.mjs";

// Registers: from a risk to an issue, an action and a decision; the board and the desk by keyboard; nothing that people write is run.
test.describe.configure({ mode: "serial" });
test.use({ baseURL: "http://127.0.0.1:8179" });

const HOSTILE = "<img src=x onerror=alert(1)>";

test("a risk strikes: its issue names it, an action follows, and the trail of each is told", async ({ page }) => {
  await page.goto("/registers/risks?scope=LW");
  await expect(page.locator("h1")).toContainText("open risks");
  const grid = page.locator(".risk-grid svg");
  await expect(grid.getByLabel(/at likelihood 4, consequence 4/)).toHaveCount(1);
  await page.getByRole("link", { name: "R1 New slewing ring fails its test", exact: true }).click();
  const margin = page.locator("#margin");
  await expect(margin.locator("h2")).toHaveText("R1 New slewing ring fails its test");
  await margin.getByRole("button", { name: "It has happened: make an issue of it" }).click();
  await expect(page).toHaveURL(/registers\/issues\?.*record=LW-11/);
  await expect(page.getByRole("status")).toContainText("has occurred, and issue");
  await expect(margin).toContainText("Risk R1 New slewing ring fails its test");
  await margin.getByText("Escalate it").click();
  await margin.getByLabel("To").selectOption({ label: "Ostrel Waterways Board" });
  await margin.getByLabel("Because").fill(`Three sites wait for the barge ${HOSTILE}`);
  await margin.getByRole("button", { name: "Escalate", exact: true }).click();
  await expect(page.locator("main table tbody tr", { hasText: "New slewing ring" })).toContainText("escalated to Ostrel Waterways Board");
  await expect(page.locator("main table tbody tr", { hasText: "New slewing ring" })).toContainText(HOSTILE);

  await page.goto("/registers/actions?scope=LW-11");
  await page.getByText("Add action").click();
  await page.locator("details.add").getByLabel("Title").fill("Ask the yard for a new ring");
  await page.locator("details.add").getByLabel("Owner").fill("J. Moreau");
  await page.getByRole("button", { name: "Add", exact: true }).click();
  await expect(page.getByRole("status")).toContainText("is added for October 2026");
});

test("cards are carried by keyboard and by mouse, columns fold, and the second of two carriers is told", async ({ page }) => {
  await page.goto("/registers/actions?scope=LW-11");
  const card = page.locator(".card-slip", { hasText: "Ask the yard for a new ring" });
  await card.focus();
  await page.keyboard.press("Shift+ArrowRight");
  await expect(page.getByRole("status")).toContainText("is in work");
  await expect(page.locator("[data-state='in work']", { hasText: "Ask the yard" })).toBeVisible();
  await expect(card).toBeFocused();
  const other = await page.context().newPage();
  await other.goto("/registers/actions?scope=LW-11");
  await card.scrollIntoViewIfNeeded();
  const from = await card.boundingBox();
  const to = await page.locator("[data-state=waiting] .cards").boundingBox();
  await page.mouse.move(from.x + 90, from.y + 40);
  await page.mouse.down();
  await page.mouse.move(from.x + 110, from.y + 44, { steps: 4 });
  await page.mouse.move(to.x + 60, from.y + 30, { steps: 12 });
  await page.mouse.up();
  await expect(page.getByRole("status")).toContainText("is waiting");
  await other.locator(".card-slip", { hasText: "Ask the yard" }).focus();
  await other.keyboard.press("Shift+ArrowLeft");
  await expect(other.getByRole("status")).toContainText("is “waiting” by now, not “in work” any more");
  await other.close();
  await page.getByRole("button", { name: /^Open/ }).click();
  await expect(page.locator("[data-state=open] .cards")).toBeHidden();
  await page.reload();
  await expect(page.locator("[data-state=open] .cards")).toBeHidden();
  await page.getByRole("button", { name: /^Open/ }).click();
});

test("activities of plans on the board: carried by keyboard, and a step ticked in place", async ({ page }) => {
  await page.goto("/registers/actions?scope=LW-11&work=both");
  await expect(page.locator("h1")).toContainText("activities are not done");
  const card = page.locator('.card-slip[data-kind="activities"][data-code="P4.3"]');
  await card.focus();
  await page.keyboard.press("Shift+ArrowRight");
  await expect(page.getByRole("status")).toContainText("Activity P4.3 of LW-11 is in work");
  await expect(page.locator('[data-state="in work"] [data-code="P4.3"]')).toBeFocused();
  await page.keyboard.press("Enter");
  const margin = page.locator("#margin");
  await expect(margin).toContainText("The plan of LW-11");
  await margin.getByRole("button", { name: "not started", exact: true }).click();
  await expect(page.getByRole("status")).toContainText("is not started");

  await page.goto("/registers/actions?scope=LW-11&record=LW-11%3AT1");
  await margin.getByLabel("Add a step").fill(`Ring the yard ${HOSTILE}`);
  await margin.getByRole("button", { name: "Add", exact: true }).click();
  const step = margin.getByRole("button", { name: `Ring the yard ${HOSTILE}` });
  await expect(step).toHaveAttribute("aria-pressed", "false");
  await step.focus();
  await page.keyboard.press("Space");
  await expect(step).toHaveAttribute("aria-pressed", "true");
  await expect(page.getByRole("status")).toContainText("is ticked");
});

test("minutes make actions of their lines, by one key; what is hostile stays text", async ({ page }) => {
  await page.goto("/registers/meetings/new");
  await page.locator("select[name=holder]").selectOption("LW-11");
  await page.getByLabel("Title").fill("Yard visit");
  await page.getByLabel("People").fill("J. Moreau, R. Osei");
  const area = page.locator("[data-minutes]");
  await area.fill(`The ring is cracked ${HOSTILE}\nFetch the old drawings, @J. Moreau, 2026-11-12`);
  await area.press("Alt+a");
  await expect(area).toHaveValue(/\naction: Fetch the old drawings/);
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("status")).toContainText("1 action came of them");
  await expect(page.locator(".prose")).toContainText(HOSTILE);
  await expect(page.locator(".prose img")).toHaveCount(0);
  await expect(page.getByRole("link", { name: /Fetch the old drawings/ })).toBeVisible();
});

test("what September's pack asked for is answered, and the next pack says what became of it", async ({ page }) => {
  await page.goto("/registers/meetings");
  await page.getByRole("link", { name: "Board meeting on September" }).click();
  const put = page.locator(".decision", { hasText: "Hire another crane" });
  await expect(put).toContainText("put off");
  await put.getByText("Answer it").click();
  await put.getByLabel("Why").fill("two offers are there");
  await put.getByLabel("What follows").fill("Sign with the cheaper one");
  await put.getByLabel("Its owner").fill("J. Moreau");
  await put.getByRole("button", { name: "Taken" }).click();
  await expect(page.getByRole("status")).toContainText("is taken for October 2026, and an action follows");
  await expect(put).toContainText("Sign with the cheaper one, J. Moreau");
  await page.goto("/registers/decisions?state=taken");
  await expect(page.locator("main")).toContainText("Hire another crane for the canoe landing");
});

test.describe("the desk of a lead", () => {
  test.use({ as: "okafor" });
  test("by keyboard alone: what is ticked vanishes, and comes back", async ({ page }) => {
    await page.goto("/desk");
    await expect(page.locator("h1")).toContainText("on your desk");
    const first = page.locator(".desk-list li", { hasText: "Hire the second shift" });
    await first.locator("button.tick").focus();
    await page.keyboard.press("Enter");
    await expect(page.getByRole("status")).toContainText("is done for October 2026");
    await expect(first).toHaveCount(0);
    await page.getByRole("button", { name: "Undo" }).focus();
    await page.keyboard.press("Enter");
    await expect(page.getByRole("status")).toContainText("is in work again");
    await expect(page.locator(".desk-list li", { hasText: "Hire the second shift" })).toHaveCount(1);
    await first.getByText("change", { exact: true }).click();
    await first.getByLabel("State").selectOption("waiting");
    await first.getByLabel("Percent").fill("35");
    await first.getByRole("button", { name: "Save" }).click();
    await expect(page.getByRole("status")).toContainText("is changed for October 2026");
    await expect(first).toContainText("action, waiting, 35.0 %");
    await page.setViewportSize({ width: 390, height: 800 });
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  });
});
