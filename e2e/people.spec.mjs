import { expect, test } from "./turret.mjs";

// People: from the first page to who wants the underwater inspector in three clicks, and the load map by keyboard.
test("2.4 inspectors are wanted where one is: found in three clicks", async ({ page }) => {
  await page.goto("/");
  await page.getByRole("navigation", { name: "Sections" }).getByRole("link", { name: "People" }).click();
  await page.getByRole("link", { name: "Roles", exact: true }).click();
  await expect(page.locator("h1")).toContainText(
    "most are missing of underwater inspector in February 2027, 2.40 wanted where 1.00 are there",
  );
  await page.getByTitle(/^underwater inspector, 2027-02/).click();
  const margin = page.locator("#margin");
  await expect(margin).toContainText("384 h wanted of 160 h there");
  await expect(margin).toContainText("LW-07 Hallin Lock rebuild 128 h");
  await expect(margin.getByRole("heading", { name: "Who could take it" })).toBeVisible();
});

test("the load map is read by keyboard, and fits its page on a phone", async ({ page }) => {
  await page.goto("/people/load?unit=month&role=site+supervisor");
  await expect(page.locator(".load-map tbody tr")).toHaveCount(8);
  const cell = page.locator(".load-map tbody a").first();
  await cell.focus();
  await page.keyboard.press("Enter");
  await expect(page.locator("#margin")).toContainText("Who wants it");
  await page.setViewportSize({ width: 390, height: 800 });
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
});
