import { expect, test } from "./turret.mjs";

// A roll-out whose backlog grew by a quarter is not done by the day it is wanted; what will not be is named, and where it comes from is told.
test("what will not be done in time is marked where the line falls, and the finish is traced to iterations", async ({ page }) => {
  await page.goto("/registers/backlogs");
  const row = page.locator("tbody tr").filter({ hasText: "Level telemetry roll-out" });
  await expect(row).toContainText("30.8 %");
  await row.getByRole("link", { name: "Level telemetry roll-out" }).click();
  await expect(page.locator("h1")).toContainText("of what remains, will not be done by");
  await expect(page.locator("tr.line")).toHaveCount(1);
  await page.locator("h1 a").filter({ hasText: "an iteration" }).click();
  await expect(page.locator("#margin")).toContainText("I23");
  await page.keyboard.press("Escape");
  await page.getByRole("link", { name: "By iteration" }).click();
  await expect(page.locator("main")).toContainText("20 unplanned");
});

test.describe("on a server that may change", () => {
  test.use({ baseURL: "http://127.0.0.1:8179" });
  test("the analyst ranks, changes several items at once, and carries one over the board", async ({ page }) => {
    await page.goto("/projects/DT-05/backlog");
    const rows = page.locator("[data-ranked] tr[data-code]");
    const [first, second] = [await rows.nth(0).getAttribute("data-code"), await rows.nth(1).getAttribute("data-code")];
    await rows.nth(1).locator(".handle").focus();
    await page.keyboard.press("Alt+ArrowUp");
    await expect(page.getByRole("status")).toContainText(`${second} has another rank. It was saved for October 2026`);
    await expect(rows.nth(0)).toHaveAttribute("data-code", second);
    await expect(rows.nth(0).locator(".handle")).toBeFocused();
    await expect(page.getByRole("button", { name: "Change them" })).toBeHidden();
    await rows.nth(0).getByRole("checkbox").check();
    await rows.nth(1).getByRole("checkbox").check();
    await page.getByRole("combobox", { name: "State" }).selectOption("doing");
    await page.getByLabel("Blocked by").fill("<b>no device</b>");
    await page.getByRole("button", { name: "Change them" }).press("Enter");
    await expect(page.getByRole("status")).toContainText("2 items were changed");
    await expect(page.locator(`tr[data-code="${first}"]`)).toContainText("<b>no device</b>");
    await page.getByRole("link", { name: "Board" }).click();
    const card = page.locator(`.card-slip[data-code="${first}"]`);
    await card.focus();
    await page.keyboard.press("Shift+ArrowRight");
    await expect(page.getByRole("status")).toContainText(`${first} is done`);
    await expect(page.locator('[data-state="done"]').locator(`[data-code="${first}"]`)).toBeVisible();
  });
});

test("a benefit of a closed project that has not come stands first, with its owner", async ({ page }) => {
  await page.goto("/money/benefits");
  const first = page.locator("tbody tr").first();
  await expect(first).toContainText("closed");
  await expect(first).toContainText("J. Moreau");
  await page.goto("/projects/BV-05/benefits");
  await expect(page.locator("h1")).toContainText("it pays back in");
  await expect(page.locator("main")).toContainText("boats");
});
