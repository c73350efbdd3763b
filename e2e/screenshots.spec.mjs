import { expect, test } from "./turret.mjs";

// Makes the pictures of docs/screenshots; only when asked to (make screenshots).
test.skip(!process.env.SCREENSHOTS, "pictures are made on demand");

for (const [name, path, dark] of [["lookout", "/"], ["lookout-dark", "/", true], ["trace", "/projects/LW-07?trace=eac"],
  ["project", "/projects/LW-07"], ["projects", "/projects"], ["gather", "/gather?asof=2026-11-30"], ["calendars", "/edit/calendars"],
  ["settings", "/setup/settings"]]) {
  test(name, async ({ page }) => {
    await page.emulateMedia({ colorScheme: dark ? "dark" : "light" });
    await page.goto(path);
    await page.screenshot({ path: `docs/screenshots/${name}.png` });
  });
}

for (const [name, source, file] of [["consequences", "Finance", "finance/GL-extract-2026-11.csv"], ["problems", "Data and Telemetry", "data-and-telemetry/DT 2026-11.zip"]]) {
  test(name, async ({ page }) => {
    await page.goto("/gather/load?asof=2026-11-30");
    await page.getByLabel("Sent by").fill(source);
    await page.locator("input[type=file]").setInputFiles(`examples/november-2026/${file}`);
    await expect(page.locator("#consequences h2").first()).toBeVisible();
    await page.screenshot({ path: `docs/screenshots/${name}.png` });
  });
}
