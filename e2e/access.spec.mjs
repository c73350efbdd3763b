import AxeBuilder from "@axe-core/playwright";
import { expect, test } from "./turret.mjs";

for (const colorScheme of ["light", "dark"]) {
  test.describe(colorScheme, () => {
    test.use({ colorScheme });
    for (const path of ["/", "/?trace=vac", "/projects/LW-07?trace=ac", "/projects", "/nowhere"]) {
      test(`no violation of WCAG 2.2 AA at ${path}`, async ({ page }) => {
        await page.goto(path);
        await expect(page.locator("html")).toHaveAttribute("data-bs-theme", colorScheme);
        const { violations } = await new AxeBuilder({ page }).withTags(["wcag2a", "wcag2aa", "wcag21aa", "wcag22aa"]).analyze();
        expect(violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target).slice(0, 3).join(" | ")}`)).toEqual([]);
      });
    }
  });
}

test("the theme can be switched and stays", async ({ page }) => {
  await page.goto("/");
  await page.getByRole("button", { name: "Light or dark" }).click();
  await expect(page.locator("html")).toHaveAttribute("data-bs-theme", "dark");
  await page.reload();
  await expect(page.locator("html")).toHaveAttribute("data-bs-theme", "dark");
});

test("reads on a phone without scrolling the page sideways", async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 800 });
  for (const path of ["/", "/projects/LW-07"]) {
    await page.goto(path);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  }
});
