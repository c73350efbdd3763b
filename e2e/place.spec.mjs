import { expect, test } from "./turret.mjs";

const view = (page) => page.locator("details.view");

// opened is the tree of scopes, ready to be typed in.
async function opened(page) {
  await view(page).locator("summary").click();
  await expect(page.locator("[data-places-find]")).toBeFocused();
}

test("another scope is chosen from the tree: page and period stay, and the full name stands", async ({ page }) => {
  await page.goto("/money?asof=2026-09-30");
  await opened(page);
  await page.keyboard.type("locks");
  await expect(view(page).getByRole("link", { name: "Fish and Wetlands" })).toBeHidden();
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(/\/money\?asof=2026-09-30&scope=LW$/);
  await expect(view(page).locator("summary")).toHaveText("Locks and Weirs");

  await page.goto("/projects/LW-07/explain?asof=2026-09-30&scope=LW");
  await opened(page);
  await page.keyboard.type("BR-03");
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(/\/projects\/BR-03\/explain\?asof=2026-09-30&scope=LW$/);
  await opened(page);
  await page.keyboard.type("no such thing");
  await expect(page.getByText("Nothing has this in its name or code")).toBeVisible();
  await page.keyboard.press("Escape");
  await page.locator("details.view summary").focus();
  await page.keyboard.press("Escape");
  await expect(page.locator("[data-places-find]")).toBeHidden();
});

test("every page of a project has the same tabs, and a record opens with what became of it", async ({ page }) => {
  const tabs = page.getByRole("navigation", { name: "LW-07 Hallin Lock rebuild" });
  await page.goto("/projects/LW-07");
  const names = await tabs.getByRole("link").allTextContents();
  for (const name of names) {
    await tabs.getByRole("link", { name, exact: true }).click();
    await expect(tabs.locator("[aria-current]")).toHaveText(name);
    expect(await tabs.getByRole("link").allTextContents(), name).toEqual(names);
  }
  await page.goto("/edit/risks?project=LW-07");
  await expect(tabs.locator("[aria-current]")).toHaveText("Risks and actions");

  await page.goto("/projects/LW-07/records/activities");
  await page
    .getByRole("row", { name: /Lock commissioned/ })
    .getByRole("link")
    .click();
  const margin = page.locator("#margin");
  await expect(margin).toContainText("24 Feb 2027");
  await expect(margin).toContainText(/Expected finish: 24 Feb 2027, was \d+ \w{3} 2027/);
  await expect(margin).toContainText(/row \d+, for October 2026/);
});

test("a page that is not there keeps the header, the steps and the period", async ({ page }) => {
  await page.goto("/nowhere?asof=2026-09-30&scope=LW");
  await expect(page.locator(".scope b")).toHaveText("September 2026");
  await expect(page.getByRole("navigation", { name: "Steps of the period" }).getByRole("link")).toHaveCount(5);
  await page.locator("[data-period-on]").click();
  await expect(page).toHaveURL(/\/\?asof=2026-10-31/);
});

test.describe("an executive and a lead", () => {
  test.use({ as: "almeida" });
  test("see the steps that are theirs", async ({ page, browser, baseURL }) => {
    await page.goto("/");
    await expect(page.getByRole("navigation", { name: "Steps of the period" }).getByRole("link")).toHaveText(["Publish"]);
    const lead = await (await browser.newContext({ baseURL })).newPage();
    await lead.request.post("/enter", { form: { login: "okafor" }, headers: { origin: baseURL } });
    await lead.goto("/");
    await expect(lead.getByRole("navigation", { name: "Steps of the period" }).getByRole("link")).toHaveText(["Gather", "Explain"]);
    await lead.context().close();
  });
});

test.describe("a lead", () => {
  test.use({ as: "okafor", baseURL: "http://127.0.0.1:8181" });
  test("sends a month in which little changed on one page, in ten clicks", async ({ page }) => {
    let clicks = 0;
    const click = async (target) => {
      clicks++;
      await target.click();
    };
    await page.goto("/projects/LW-07/explain?asof=2026-12-31");
    const row = page.locator("#send-activities tbody tr").first();
    await click(row.getByLabel("Expected finish"));
    await page.keyboard.press("Control+A");
    await page.keyboard.type("18 jan 27");
    await click(page.locator("#send-risks tbody tr").first().getByLabel("Likelihood"));
    await page.keyboard.press("Control+A");
    await page.keyboard.type("9");
    await click(page.getByRole("button", { name: "Save what changed" }));
    await expect(page.getByRole("alert").first()).toContainText(/cell.* cannot be taken; nothing was saved/);
    await expect(page.locator("#send-risks tbody tr").first()).toContainText("expected");
    await expect(row.getByLabel("Expected finish")).toHaveValue("18 Jan 2027");
    await page.locator("#send-risks tbody tr").first().getByLabel("Likelihood").fill("3");
    await click(page.getByRole("button", { name: "Save what changed" }));
    await expect(page.getByRole("status").first()).toContainText("2 rows saved for December 2026: schedule, risks.");
    await click(page.locator("#text-overall"));
    await page.keyboard.type("The second gate is hung.");
    await click(page.getByRole("button", { name: "Save", exact: true }));
    await click(page.getByRole("button", { name: "Everything is sent" }).first());
    await expect(page.getByRole("status").first()).toContainText("Confirmed as it stood: forecast, status.");
    expect(clicks).toBeLessThanOrEqual(10);
    await expect(page.locator(".inputs")).not.toContainText("to come");
    await page.goto("/projects/LW-07/records/activities?asof=2026-12-31");
    await expect(page.locator("main")).toContainText("18 Jan 2027");
  });
});
