import { enter, expect, test } from "./turret.mjs";

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
  const cell = page.locator(".load-map tbody td a").first();
  await cell.focus();
  await page.keyboard.press("Enter");
  await expect(page.locator("#margin")).toContainText("Who wants it");
  await page.setViewportSize({ width: 390, height: 800 });
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
});

test("a bar is carried, what it would do is told, and a lead's request is granted", async ({ page, browser, baseURL }) => {
  await page.goto("/people/plan/LW-07");
  const row = page.locator(".staffing tbody tr").filter({ has: page.locator('option[selected][value="r:underwater inspector"]') });
  const bar = await row.locator("[data-bar]").boundingBox();
  await page.mouse.move(bar.x + bar.width / 2, bar.y + bar.height / 2);
  await page.mouse.down();
  await page.mouse.move(bar.x + bar.width / 2 + 40, bar.y + bar.height / 2, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByText("Tried, and not saved.")).toBeVisible();
  await expect(row.locator("input[name^=from-]")).not.toHaveValue("2027-02-01");
  await page.getByRole("link", { name: "Forget it" }).click();
  await row.locator("select").selectOption({ label: "Bo Horváth, underwater inspector" });
  await page.getByRole("button", { name: "What would it do" }).press("Enter");
  await expect(page.locator(".tried")).toContainText("Bo Horváth: 128 h more are wanted; over in 0 weeks, 0 before");

  const other = await browser.newContext({ baseURL });
  const lead = await other.newPage();
  await enter(lead, "okafor");
  await lead.goto("/people/plan/LW-07");
  await expect(lead.getByRole("button", { name: "Save" })).toHaveCount(0);
  await lead.getByText("Ask for somebody").click();
  const ask = lead.locator("details.ask");
  await ask.getByLabel("Who").selectOption({ label: "Bo Horváth, underwater inspector" });
  await ask.getByLabel("From").fill("1 Mar 2027");
  await ask.getByLabel("To", { exact: true }).fill("5 Mar 2027");
  await ask.getByLabel("Percent of a day").fill("40");
  await ask.getByRole("button", { name: "Ask", exact: true }).click();
  await expect(lead.locator("h1")).toHaveText("1 request waits for an answer.");
  await page.goto("/desk");
  await page.getByRole("link", { name: "LW-07 asks for somebody from 1 Mar 2027" }).click();
  await expect(page.locator(".asked")).toContainText("with it 40.0 % in the week of 1 Mar 2027");
  await page.getByRole("button", { name: "Agree" }).click();
  await expect(page.locator("body")).toContainText("The request of LW-07 is agreed. It is assigned by load");
  await lead.goto("/people/plan/LW-07");
  await expect(lead.locator(".staffing")).toContainText("Bo Horváth");
  await other.close();
});

test.describe("where people are planned", () => {
  test.use({ baseURL: "http://127.0.0.1:8179" });

  // By hand: from 9 November to 18 December are 30 days of 8 h; 20 % more of them are 48 h, and 10 + 20 + 90 % are over in six weeks.
  test("one person's work over all projects is tried, handed over by keyboard, and saved with a reason", async ({ page }) => {
    await page.goto("/people/of/S072?asof=2026-10-31");
    await expect(page.locator("h1")).toContainText("is wanted by 3 assignments and overloaded in no week to come");
    const row = page.locator(".staffing tbody tr").filter({ has: page.getByRole("link", { name: "LW-05 Ashby weir apron" }) });
    const share = row.getByLabel(/Percent of a day/);
    await share.fill("90");
    await page.getByRole("button", { name: "What would it do" }).press("Enter");
    await expect(page.locator(".tried")).toContainText("Rosa Søndergaard: 48 h more are wanted; over in 6 weeks, 0 before");
    await page.getByRole("button", { name: "Save" }).press("Enter");
    await expect(page.getByRole("alert")).toContainText("why the plan of people changes");
    await expect(share).toHaveValue("90");
    await page.getByLabel("Why").fill("The apron comes first");
    await page.getByRole("button", { name: "Save" }).press("Enter");
    await expect(page.locator("body")).toContainText("The assignments of Rosa Søndergaard are planned by load");
    await expect(page.locator("h1")).toContainText("overloaded in 6 weeks to come");
  });
});
