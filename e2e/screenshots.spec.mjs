import { expect, test } from "./turret.mjs";

// Makes the pictures of docs/screenshots; only when asked to (make screenshots).
test.skip(!process.env.SCREENSHOTS, "pictures are made on demand");

for (const [name, path, dark] of [
  ["lookout", "/"],
  ["project", "/projects/LW-07?trace=eac"],
  ["gather", "/gather?asof=2026-11-30"],
  ["check", "/check"],
  ["assess", "/assess"],
  ["opinion", "/assess/opinion"],
  ["outlook", "/projects/BR-07/outlook"],
  ["earned", "/assess/earned?scope=LW-07"],
  ["explain", "/projects/LW-11/explain"],
  ["publish", "/publish"],
  ["timeline", "/timeline"],
  ["compose", "/reports/compose?report=executive&page=3"],
  ["risks", "/registers/risks"],
  ["people", "/people/load?scope=LW"],
  ["desk", "/desk"],
  ["plan", "/projects/LW-07/plan"],
  ["money", "/money"],
  ["pipeline", "/pipeline/selection?limit.2027=2100000&limit.fte:underwater+inspector:2027Q3=1", true],
]) {
  test(name, async ({ page }) => {
    await page.emulateMedia({ colorScheme: dark ? "dark" : "light" });
    await page.goto(path);
    if (await page.locator("[data-timeline], [data-plan]").count()) await expect(page.locator("[data-ready=yes]")).toBeVisible();
    await page.evaluate(() => document.fonts.ready);
    await page.screenshot({ path: `docs/screenshots/${name}.png` });
  });
}

for (const [name, source, file] of [["consequences", "Finance", "finance/GL-extract-2026-11.csv"]]) {
  test(name, async ({ page }) => {
    await page.goto("/gather/load?asof=2026-11-30");
    await page.getByLabel("Sent by").fill(source);
    await page.locator("input[type=file]").setInputFiles(`examples/november-2026/${file}`);
    await expect(page.locator("#consequences h2").first()).toBeVisible();
    await page.screenshot({ path: `docs/screenshots/${name}.png` });
  });
}
