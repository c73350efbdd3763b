import { enter, expect, test } from "./turret.mjs";

// What people decide about what was computed: exceptions, statuses, checks of their own, views; and the period closed and reopened.
test.describe.configure({ mode: "serial" });
test.use({ baseURL: "http://127.0.0.1:8180" });

test("a finding is accepted with a reason, counts no more, and is taken back", async ({ page }) => {
  await page.goto("/check?check=cost_after_finish");
  const row = page.locator("main tr[data-finding=cost_after_finish]");
  await row.locator("summary").click();
  await row.getByLabel("Because").fill("The final account of the cabins is open until the spring.");
  await row.getByLabel("until").fill("2026-10-01");
  await row.getByRole("button", { name: "Accept" }).click();
  await expect(page.getByRole("alert")).toContainText("a day after 31 Oct 2026");
  await expect(page.getByLabel("Because")).toHaveValue("The final account of the cabins is open until the spring.");
  await page.getByLabel("until").fill("2027-03-31");
  await page.getByRole("button", { name: "Accept" }).click();
  await expect(page.locator("main tr[data-finding=cost_after_finish]")).toHaveCount(0);
  await page.goto("/check?show=accepted");
  const kept = page.locator("main tr", { hasText: "149 postings after the finish" });
  await expect(kept).toContainText("R. Osei");
  await kept.getByRole("button", { name: "Take back" }).click();
  await page.goto("/check?check=cost_after_finish");
  await expect(page.locator("main tr[data-finding=cost_after_finish]")).toHaveCount(1);
});

test("a status set by a person stands beside the computed one, on every screen", async ({ page }) => {
  await page.goto("/projects/LW-05/assess");
  await page.locator("select[name=on]").selectOption({ label: "overall" });
  await page.locator("select[name=status]").selectOption({ label: "act" });
  await page.getByLabel("until").fill("2026-12-31");
  await page.getByLabel("Because").fill("The contractor is in <b>administration</b>.");
  await page.getByRole("button", { name: "Set", exact: true }).click();
  await expect(page.locator("main tr", { hasText: "administration" }).last()).toContainText("The contractor is in <b>administration</b>.");
  await page.goto("/assess?difference=set");
  const row = page.locator("main tr", { hasText: "Ashby weir apron" });
  await expect(row).toContainText(/act/);
  await page.goto("/projects/LW-05/assess");
  await page.getByRole("button", { name: "Take back" }).click();
  await page.goto("/assess?difference=set");
  await expect(page.locator("main tr", { hasText: "Ashby weir apron" })).toHaveCount(0);
});

test("a check of one's own is tried, kept, found with the others and taken away", async ({ page }) => {
  await page.goto("/check/rules");
  await page.getByText("Write a check").click();
  await page.getByLabel("Name", { exact: true }).fill("Behind and silent");
  await page.getByLabel("Id", { exact: true }).fill("behind_silent");
  const expression = page.getByLabel("Fails where");
  await expression.fill("finish_deviation > 40 and nonsense == 1");
  await page.getByRole("button", { name: "Try it" }).click();
  await expect(page.getByRole("alert")).toContainText("nonsense");
  await page.getByLabel("Fails where").fill("finish_deviation > 40");
  await page.getByRole("button", { name: "Try it" }).click();
  await expect(page.getByRole("status")).toContainText(/\b2 of 27|fail/);
  await page.getByRole("button", { name: "Save it" }).click();
  await page.goto("/check?check=behind_silent");
  await expect(page.locator("main tr[data-finding=behind_silent]", { hasText: "LW-11" })).toBeVisible();
  await page.goto("/check/rules");
  await page.locator("main tr", { hasText: "behind_silent" }).getByRole("button", { name: "Take away" }).click();
  await expect(page.locator("main tr", { hasText: "behind_silent" })).toHaveCount(0);
});

test("a table is kept for all under a name and found again", async ({ page }) => {
  await page.goto("/assess/table?columns=tcpi_eac&columns=cpi&where=tcpi_eac%20%3E%20cpi%20%2B%200.1");
  await page.locator("summary", { hasText: "Saved tables" }).click();
  await page.getByLabel("Save this table as").fill("Hopeful");
  await page.getByLabel("for all to use").check();
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await page.goto("/assess/table");
  await page.locator("summary", { hasText: "Saved tables" }).click();
  await page.getByRole("link", { name: "Hopeful" }).click();
  await expect(page).toHaveURL(/where=tcpi_eac/);
  await expect(page.locator("main tr[data-project=BV-02]")).toBeVisible();
});

test("the facts are taken into a text, which reads as it was meant and nothing in it runs", async ({ page }) => {
  await page.goto("/explain");
  await page.locator("main tr[data-project=BR-05]").getByRole("link", { name: "explain" }).click();
  await page.locator("#cost").getByRole("button", { name: "take it" }).click();
  await expect(page.getByLabel("Cost", { exact: true })).toHaveValue(/Actual cost 7\.7 % over budget to date/);
  await page.getByLabel("Overall", { exact: true }).fill("**Roads** are <script>alert(1)</script> wet\n\n- مرحبا 🚧");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByRole("status")).toContainText("is saved for October 2026");
  const prose = page.locator("#overall .prose").last();
  await expect(prose.locator("strong")).toHaveText("Roads");
  await expect(prose).toContainText("<script>alert(1)</script>");
  await expect(prose.locator("li")).toHaveText("مرحبا 🚧");
  await page.getByLabel("Schedule", { exact: true }).fill("x".repeat(200_001));
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByRole("alert")).toContainText("at most 200000 characters; this has 200001");
  await expect(page.getByLabel("Schedule", { exact: true })).toHaveValue("x".repeat(200_001));
  await page.getByLabel("Schedule", { exact: true }).fill(`<b>wet</b> שלום 🚧 ${"and wet ".repeat(24_990)}`);
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByRole("status")).toContainText("is saved for October 2026");
  for (const form of ["pdf", "html", "xlsx", "csv"]) {
    const pack = await page.request.get(`/reports/file/${form}?report=executive`);
    expect(pack.status(), form).toBe(200);
  }
});

test("the office writes to the whole, and it stands in the pack", async ({ page, browser, baseURL }) => {
  await page.goto("/explain");
  await expect(page.locator("main")).toContainText("The crane barge will decide the winter");
  await page.getByLabel("From the office").fill("The **winter** is tight.");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByRole("status")).toContainText("is saved for October 2026");
  await expect(page.locator(".prose strong").last()).toHaveText("winter");
  const lead = await browser.newContext({ baseURL });
  const theirs = await lead.newPage();
  await enter(theirs, "okafor");
  await theirs.goto("/explain");
  await expect(theirs.locator("main")).toContainText("Hallin Lock rebuild");
  await expect(theirs.locator("main")).not.toContainText("is tight");
  await lead.close();
});

test("the period is closed once what stands in its way is waived, and reopened with a reason", async ({ page }) => {
  await page.goto("/publish");
  await expect(page.locator("h1")).toContainText(/\d+ things stand in the way of closing October 2026/);
  await expect(page.getByRole("button", { name: "Close October 2026" })).toHaveCount(0);
  for (let left = await page.locator("tr[data-obstacle] summary").count(); left > 0; left--) {
    const row = page.locator("tr[data-obstacle]:not(.quiet)").first();
    await row.locator("summary").click();
    await row.getByLabel("Because").fill("K. Ōtani is away; the board knows.");
    await row.getByRole("button", { name: "Waive" }).click();
    await expect(page.locator("tr[data-obstacle]:not(.quiet)")).toHaveCount(left - 1);
  }
  await page.locator("details.closing > summary").click();
  await page.getByRole("button", { name: "Close October 2026", exact: true }).click();
  await expect(page.locator("h1")).toContainText("October 2026 was closed on");
  await page.goto("/projects/LW-05/assess");
  await expect(page.locator("main")).toContainText("October 2026 is closed: its statuses stay as they are.");
  await page.goto("/projects/LW-07/explain");
  await expect(page.locator("textarea")).toHaveCount(0);
  await page.goto("/publish?asof=2026-10-31");
  await page.locator("summary", { hasText: "Reopen October 2026" }).click();
  await page.getByLabel("Because").fill("The ledger of the harbour was missing.");
  await page.getByRole("button", { name: "Reopen", exact: true }).click();
  await expect(page.locator("main tr", { hasText: "The ledger of the harbour was missing." })).toContainText("October 2026");
  await page.locator("details.closing > summary").click();
  await page.getByRole("button", { name: "Close October 2026", exact: true }).click();
  await expect(page.locator("h1")).toContainText("October 2026, issue 2 was closed on");
  const digests = await page.locator("main tr", { hasText: "October 2026" }).locator("code").allTextContents();
  expect(digests[0]).toBe(digests[1]);
});
