import { expect, test } from "./turret.mjs";

// A project that is on track by all that is declared and computed is predicted at act: found from the section, with the reason and how good it is.
test("what is predicted stands beside what is declared and computed, with its reasons", async ({ page }) => {
  await page.goto("/assess");
  await page.getByRole("link", { name: "Outlook", exact: true }).click();
  await expect(page.locator("h1")).toContainText("of them are declared on track");
  const row = page.locator("tbody tr").filter({ hasText: "Piezometer renewal" });
  await expect(row).toHaveClass(/differs/);
  await expect(row).toContainText("slips of the finish in a row");
  await row.getByRole("link", { name: "Piezometer renewal" }).click();
  await expect(page.locator("h1")).toContainText("it is predicted at act");
  await expect(page.locator(".reasons li").first()).toContainText("toward: 5 slips of the finish in a row");
  await expect(page.locator(".signs")).toContainText("computed on track");
  await page.getByRole("link", { name: "How good predictions are" }).click();
  await expect(page.locator("h1")).toContainText("skill is 0.");
  await page.getByRole("link", { name: "Jun 26", exact: true }).click();
  await expect(page.locator("main")).toContainText("By what was known on 30 Jun 2026: of ");
  await expect(page.locator("tbody tr").filter({ hasText: "ended" }).first()).toBeVisible();
});

// From the first page to the project that is predicted at act and declared on track, with the third sign on the way, by keyboard.
test("a new reader finds what is predicted from the first page", async ({ page }) => {
  await page.goto("/?asof=2026-10-31");
  const panel = page.locator(".of-ahead");
  await expect(panel).toContainText("of them are declared on track. Learned from");
  const mark = page.locator('tr[data-project="BR-07"]').getByText(/predicted act/);
  await expect(mark).toHaveCount(1);
  await panel.getByRole("link", { name: "BR-07 Piezometer renewal" }).focus();
  await page.keyboard.press("Enter");
  await expect(page.locator("h1")).toContainText("it is predicted at act");
  await page.getByRole("link", { name: "Summary", exact: true }).click();
  await expect(page.locator(".ahead")).toContainText("Predicted act, ");
  await page.goto("/projects?asof=2026-11-30");
  await expect(page.getByText(/^predicted (act|watch|on track)/).first()).toBeAttached();
});

// What is predicted worse than it is declared stands in the second opinion, in the facts to take over, and below the decisions of a report.
test("predictions are evidence where one judges, explains and decides", async ({ page }) => {
  await page.goto("/assess/outlook"); // which waits until it is learned; other pages tell that it is being learned
  await expect(page.locator("h1")).toContainText("act");
  await page.goto("/assess/opinion?asof=2026-10-31");
  const row = page.locator("section tbody tr").filter({ hasText: "Piezometer renewal" });
  await expect(row).toContainText("it ends at act with");
  await expect(row).toContainText("What speaks for it: 5 slips of the finish in a row");
  await page.goto("/projects/BR-07/explain");
  await expect(page.locator("[data-facts]").first()).toContainText("Predicted act, ");
  const html = await (await page.request.get("/reports/file/html?part=decisions")).text();
  expect(html).toContain("Predicted worse than declared");
  expect(html).toContain("BR-07 Piezometer renewal (act ");
});

// A closure that ends three weeks behind the day it is wanted in eight runs of ten, and what that range is without one of its risks.
test("the range of a finish is told against the day required, and without a risk", async ({ page }) => {
  await page.goto("/projects/LW-03/outlook");
  await expect(page.locator("h1")).toContainText("in eight runs of ten");
  await expect(page.locator("main")).toContainText("required 6 Apr 2027");
  const before = await page.locator("dl.facts").textContent();
  await expect(async () => {
    // The page arranges itself anew when a simulation has come; the key is pressed on what stands then.
    await page.getByRole("link", { name: "without risks" }).press("Enter");
    await expect(page.locator("[aria-current=true]").filter({ hasText: "without risks" })).toBeVisible({ timeout: 60_000 });
  }).toPass();
  expect(await page.locator("dl.facts").textContent()).not.toBe(before);
});

// Which work loses the money is told with its trace, and a project that ends is closed with what is left.
test("money is told by activity, and what a project still owes before it is closed", async ({ page }) => {
  await page.goto("/projects/LW-07/money");
  await page.getByRole("link", { name: "By activity" }).click();
  await expect(page.locator("h1")).toContainText("loses most by P2 Gates, made and hung");
  const row = page.locator("tbody tr").filter({ hasText: "Gates, made and hung" });
  await row.locator("td").nth(9).locator("a").click();
  await expect(page.locator("#margin")).toContainText("Cost performance index, P2 Gates, made and hung");
  await page.goto("/projects/LW-09/closing");
  await expect(page.locator("h1")).toContainText("left to be done");
});

test.describe("on a server that may change", () => {
  test.use({ baseURL: "http://127.0.0.1:8179" });
  test("the analyst closes a project, and is told that it can be withdrawn", async ({ page }) => {
    await page.goto("/projects/BV-03/closing");
    await page.getByLabel(/Why it is closed/).fill("handed over <b>");
    await page.getByRole("button", { name: "Close the project" }).press("Enter");
    await expect(page.getByRole("status").first()).toContainText("BV-03 is closed. It was saved for October 2026");
    await expect(page.locator("h1")).toContainText("is closed.");
  });
});

// What is supposed of a plan is simulated beside it, and each day that is told opens to the rows that it was drawn from.
test("a rehearsal is run with ranges, and a day leads to what it is drawn from", async ({ page }) => {
  const move = encodeURIComponent("project=LW-07&activity=P3.7&stretch=15");
  await page.goto(`/timeline/rehearsal?asof=2026-09-30&move=${move}`);
  await page.getByRole("link", { name: "What may come of it" }).click();
  const row = page.locator("#ahead tbody tr").filter({ hasText: "Hallin Lock rebuild" });
  await expect(async () => {
    if (await page.getByText("Come back to this page").isVisible()) await page.reload();
    await expect(row.locator("td").nth(5)).toHaveText(/^\+1\d$/, { timeout: 1000 });
  }).toPass();
  await expect(page).toHaveURL(/asof=2026-09-30/);
  await row.getByRole("link", { name: "LW-07" }).click();
  await page.locator("dl.facts").getByRole("link").nth(2).focus();
  await page.keyboard.press("Enter");
  const margin = page.locator("#margin");
  await expect(margin.getByRole("heading", { name: "P80 of the finish" })).toBeVisible();
  await expect(margin).toContainText("Winter closure too short for the second gate");
  await expect(margin).toContainText("risks-2026-09.csv, row");
  await page.keyboard.press("Escape");
  await expect(margin.getByRole("heading")).toHaveCount(0);
});

test("a date that hardly a run keeps is found by a check, and leads to what may come of the project", async ({ page }) => {
  await expect(async () => {
    await page.goto("/check?check=date_hopeful&asof=2026-10-31");
    await expect(page.getByText("are being simulated")).toBeHidden({ timeout: 1 });
  }).toPass();
  const row = page.locator("tbody tr").filter({ hasText: "Hallin Lock rebuild" });
  await expect(row).toContainText("only one run in ten ends by");
  await expect(page.locator("h1")).toContainText("by simulation");
  await row.getByRole("link", { name: "outlook" }).click();
  await expect(page).toHaveURL(/\/projects\/LW-07\/outlook/);
});
