import { expect, test } from "./turret.mjs";

test("says in a sentence what needs a decision, the worst first", async ({ page }) => {
  await page.goto("/");
  await expect(page.locator("h1")).toContainText(/^27 open projects are forecast to cost €\d+\.\d\d M/);
  const rows = page.locator("tr[data-project]");
  await expect(rows).toHaveCount(27);
  await expect(rows.first()).toContainText("Hallin Lock rebuild");
  await expect(rows.first()).toContainText("13.1 % over budget");
  await expect(rows.first().getByText("declared on track")).toBeAttached();
});

test("keeps filters and order in the address", async ({ page }) => {
  await page.goto("/");
  await page.getByRole("combobox", { name: "Programme" }).selectOption("DT");
  await expect(page.locator("tr[data-project]")).toHaveCount(5);
  await page.getByRole("combobox", { name: "Status" }).selectOption("on track");
  await expect(page).toHaveURL(/programme=DT.*status=on\+track|status=on\+track.*programme=DT/);
  await page.getByRole("link", { name: "Finish, days" }).click();
  await expect(page).toHaveURL(/sort=finish_deviation/);
  await expect(page.locator("tr[data-project]").first()).toContainText("Asset register");
  await page.reload();
  await expect(page.locator("tr[data-project]").first()).toContainText("Asset register");
  await page.getByRole("link", { name: "clear" }).click();
  await expect(page.locator("tr[data-project]")).toHaveCount(27);
});

test("a figure of the headline opens its trace, down to a project and a row", async ({ page }) => {
  await page.goto("/");
  await page.locator("h1 a[data-trace]").nth(1).click();
  const margin = page.locator("#margin");
  await expect(margin.getByRole("heading", { name: "Variance at completion" })).toBeFocused();
  await expect(margin).toContainText("Over 27 of 27 projects");
  await expect(page).toHaveURL(/trace=vac/);
  await margin.getByText("Budget at completion", { exact: true }).click();
  await margin
    .getByRole("link", { name: /Hallin Lock rebuild/ })
    .first()
    .click();
  await expect(page).toHaveURL(/\/projects\/LW-07\?trace=bac/);
  await margin.getByText("21 Civil works").click();
  await expect(margin).toContainText(/load \d+, budget-2025-09\.csv, row \d+/);
  await page.goBack();
  await expect(page.locator("h1")).toContainText("27 open projects");
});

test("points of the sighting plot say why and lead to the project", async ({ page }) => {
  await page.goto("/");
  const point = page.locator(".plot a", { hasText: "LW-11 Crane barge refit" });
  await expect(point).toHaveAttribute("aria-label", /act: Finish 61 working days late/);
  await point.click();
  await expect(page.locator("h1")).toContainText("Crane barge refit");
});

test("an empty filter says so, and periods can be stepped through", async ({ page }) => {
  await page.goto("/?lead=nobody");
  await expect(page.getByText("No open project answers these filters.")).toBeVisible();
  await page.goto("/");
  await page.keyboard.press("[");
  await expect(page.locator("html.js .scope b")).toHaveText("September 2026");
  await page.keyboard.press("]");
  await expect(page.locator(".scope b")).toHaveText("October 2026");
});

test("the pack and the table download", async ({ page }) => {
  await page.goto("/?programme=LW");
  const [pack] = await Promise.all([page.waitForEvent("download"), page.getByRole("link", { name: "Pack as PDF" }).click()]);
  expect(pack.suggestedFilename()).toBe("pack-2026-10-31.pdf");
  const [csv] = await Promise.all([page.waitForEvent("download"), page.getByRole("link", { name: "CSV" }).click()]);
  const text = await (await csv.createReadStream()).toArray();
  const lines = Buffer.concat(text).toString().trim().split("\n");
  expect(lines.length).toBe(1 + 7 + 1);
  expect(lines[1]).toMatch(/^LW-07,2026-10-31,EUR,/);
});

test("a figure of the table is traced beside it, and the address stays", async ({ page }) => {
  await page.goto("/?programme=LW");
  await page.locator("tr[data-project] td.num a").first().click();
  await expect(page.locator("#margin h2")).toHaveText("Variance at completion, share");
  await expect(page).toHaveURL(/\/\?programme=LW$/);
  await page.keyboard.press("Escape");
  await expect(page.locator("#margin")).toBeEmpty();
  await expect(page).toHaveURL(/\/\?programme=LW$/);
  await expect(page.locator("tr[data-project]")).toHaveCount(7);
});
