import { enter, expect, test } from "./turret.mjs";

// A week of hours, typed from Monday to Friday by keyboard alone, sent, and approved by the lead; then it stands in the timesheets.
test.use({ as: "abara" });
test("hours of a week by keyboard, approved by somebody else", async ({ page, browser, baseURL }) => {
  await page.goto("/hours?week=2026-11-02");
  await expect(page.locator("h1")).toContainText("Goran Abara, week of 2 Nov 2026 to 8 Nov 2026: 0 of 40 h are written.");
  await page.getByRole("textbox", { name: "BR-03 Monday" }).focus();
  for (const hours of ["8", "7:30", "8", "6,5", "8"]) {
    await page.keyboard.type(hours);
    await page.keyboard.press("Tab");
  }
  await expect(page.locator("[data-sum]")).toHaveText("38");
  await page.getByRole("textbox", { name: "BR-03 Monday" }).focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("textbox", { name: "BR-05 Monday" })).toBeFocused();
  await page.keyboard.type("17");
  await expect(page.locator("[data-day-sum]").first()).toHaveClass(/over/);
  await page.getByRole("button", { name: "Save and send" }).press("Enter");
  await expect(page.getByRole("alert")).toContainText("at most 24 hours on a day");
  await expect(page.getByRole("textbox", { name: "BR-05 Monday" })).toHaveValue("17");
  await page.getByRole("textbox", { name: "BR-05 Monday" }).fill("");
  await page.getByRole("button", { name: "Save and send" }).press("Enter");
  await expect(page.locator("h1")).toContainText("38 of 40 h are written");
  await expect(page.locator("main")).toContainText("BR-03: waits to be approved");

  const other = await browser.newContext({ baseURL });
  const analyst = await other.newPage();
  await enter(analyst, "osei");
  await analyst.goto("/hours/approve?asof=2026-11-30");
  const mine = analyst.getByRole("checkbox", { name: "Goran Abara, week of 2 Nov 2026" });
  await expect(mine).toBeChecked();
  for (const box of await analyst.getByRole("checkbox").all()) await box.uncheck();
  await mine.check();
  await analyst.getByRole("button", { name: "Approve what is ticked" }).click();
  await expect(analyst.locator("body")).toContainText("1 sheet, 38 h, approved and booked by load");
  await other.close();
  await page.goto("/hours?week=2026-11-02");
  await expect(page.locator("main")).toContainText("BR-03: approved by R. Osei");
});

test("a week sheet fits a phone", async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 800 });
  await page.goto("/hours?week=2026-11-09");
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await page.getByRole("textbox", { name: "BR-05 Friday" }).fill("2");
  await expect(page.locator("[data-sum]")).toHaveText("2");
});
