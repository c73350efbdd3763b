import { test } from "./turret.mjs";

// Makes the pictures of docs/screenshots; only when asked to (make screenshots).
test.skip(!process.env.SCREENSHOTS, "pictures are made on demand");

for (const [name, path, dark] of [["lookout", "/"], ["lookout-dark", "/", true], ["trace", "/projects/LW-07?trace=eac"],
  ["project", "/projects/LW-07"], ["projects", "/projects"]]) {
  test(name, async ({ page }) => {
    await page.emulateMedia({ colorScheme: dark ? "dark" : "light" });
    await page.goto(path);
    await page.screenshot({ path: `docs/screenshots/${name}.png` });
  });
}
