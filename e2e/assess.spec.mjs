import { expect, test } from "./turret.mjs";

// What the demonstration's stories look like on the screens of Check and Assess; nothing here changes anything.
test.describe.configure({ mode: "parallel" });

const row = (page, text) => page.locator("main tr", { hasText: text }).first();

test("a project declared on track while its cost index falls leads the second opinion", async ({ page }) => {
  await page.goto("/assess/opinion");
  const first = page.locator("main tbody tr").first();
  await expect(first).toContainText("Hallin Lock rebuild");
  await expect(first).toContainText("2 steps");
  await expect(first).toContainText("The cost index has fallen for six periods");
  await expect(first).toContainText(/The way back: Complete for €[\d,.]+ less, to be at watch/);
  await first.getByRole("link", { name: "act" }).click();
  await expect(page.locator("#margin")).toContainText(/Computed/);
});

test("a backlog that grew after its baseline is named with its share", async ({ page }) => {
  await page.goto("/projects/DT-02/assess");
  await expect(row(page, "Work added after the baseline")).toContainText(/1[5-9]\.\d %|2\d\.\d %/);
  await expect(row(page, "Work added after the baseline")).toContainText("watch");
});

test("an early project is muted until a day and not counted", async ({ page }) => {
  await page.goto("/projects/FW-06/assess");
  await expect(page.locator("h1")).toContainText("is on track. Ratios are muted until 26 Nov 2026.");
  await expect(row(page, "Cost performance index 0.78")).toContainText("early, does not count until 26 Nov 2026");
  await page.goto("/assess?difference=muted");
  await expect(page.locator("main tbody tr")).toHaveCount(1);
  await expect(page.locator("main tbody tr")).toContainText("Floodplain meadow trial");
});

test("an estimate that the rest of the work could not keep is told with what it would need", async ({ page }) => {
  await page.goto("/check?check=estimate_hopeful");
  await expect(row(page, "BV-02")).toContainText(/the rest must go at 1\.3\d; so far it went at 0\.89/);
  await page.goto("/assess/earned?scope=BV-02");
  await expect(page.locator("main")).toContainText(/1\.3\d/);
});

test("a budget raised in August stands in the checks as long as the forecast sleeps", async ({ page }) => {
  await page.goto("/check?asof=2026-08-31&check=budget_raised");
  await expect(page.locator("main tr", { hasText: "BR-06" })).toContainText(
    /The budget rose by €1\.\d\d M|The budget rose by €[\d,]+\.\d\d/,
  );
});

test("one that has not reported is found by its dates and its inputs, each led to the field to fix", async ({ page }) => {
  await page.goto("/check?severity=error");
  await expect(page.locator("main tr[data-finding=date_passed]")).toHaveCount(3);
  const late = row(page, "P2.7 Install foundations");
  await expect(late).toContainText("activities-2026-09.csv, row");
  await late.getByRole("link", { name: "fix" }).click();
  await expect(page).toHaveURL(/\/edit\/activities\?.*project=DT-04/);
  await expect(page.locator("#at")).toBeVisible();
});

test("a programme office earns by effort, a project without earned value has no index", async ({ page }) => {
  await page.goto("/assess/table?columns=ev&columns=cpi&columns=spi");
  await expect(row(page, "Programme office 2026")).toContainText("1.00");
  await expect(row(page, "Reservoir access roads")).toContainText("–");
});

test("what is ahead and under budget asks for nobody", async ({ page }) => {
  await page.goto("/");
  await expect(page.locator("main tr[data-project=DT-05] td.why, main tr[data-project=DT-05] .why").first()).toHaveText(/^\s*$/);
});

test("the index plane, the curve and what loses the money stand on one page", async ({ page }) => {
  await page.goto("/assess/earned?scope=LW-07");
  await expect(page.locator("main svg[role=img], main svg[aria-label]").first()).toBeVisible();
  for (const name of [
    "Estimates side by side",
    "Where it stands and came from",
    "Work, farthest behind first",
    "Cost codes, most lost first",
  ])
    await expect(page.locator("main")).toContainText(name);
});

test("a table by condition, opened by its address and by hand, and what is wrong with one is said", async ({ page }) => {
  await page.goto("/assess/table");
  const where = page.locator("input.form-control[name=where]");
  await where.fill('cpi < 0.9 and programme == "LW"');
  await where.press("Enter");
  await expect(page).toHaveURL(/where=cpi/);
  await expect(page.locator("main tr[data-project]")).toHaveCount(1);
  await expect(page.locator("main tr[data-project]")).toHaveAttribute("data-project", "LW-07");
  await where.fill("cpy < 0.9");
  await page.getByRole("button", { name: "Show", exact: true }).click();
  await expect(page.getByRole("alert")).toContainText("cpi");
  await expect(where).toHaveValue("cpy < 0.9");
});

test("names are completed while a condition is typed, by keyboard alone", async ({ page }) => {
  await page.goto("/assess/table");
  const where = page.locator("input.form-control[name=where]");
  await where.focus();
  await page.keyboard.type("finish_dev");
  await expect(page.locator("[role=listbox] [role=option]").first()).toContainText("finish_deviation");
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Enter");
  await expect(where).toHaveValue(/finish_deviation/);
  await page.keyboard.type(" > 40");
  await page.keyboard.press("Enter");
  await expect(page.locator("main tr[data-project=LW-11]")).toBeVisible();
});

test("other tolerances are tried before they are set", async ({ page }) => {
  await page.goto("/assess/tolerances");
  await page.locator("input[name=limit-cpi-0-1]").fill("0.5");
  await page.locator("input[name=limit-vac_share-0-1]").fill("50");
  await page.getByRole("button", { name: "Try these" }).click();
  await expect(page).toHaveURL(/limit-cpi-0-1=0\.5/);
  const moved = page.locator("main tr", { hasText: "Tarn reservoir gates" });
  await expect(moved).toContainText("act");
  await expect(moved).toContainText("watch");
  await page.locator("input[name=limit-cpi-0-1]").fill("0.99");
  await page.getByRole("button", { name: "Try these" }).click();
  await expect(page.getByRole("alert")).toContainText("act no nearer to the plan than watch");
});

test("trends of any measure over the closed periods, and what creeps toward a limit", async ({ page }) => {
  await page.goto("/assess/trends?measure=cpi");
  await expect(page.locator("main table").last().locator("tr", { hasText: "Hallin Lock rebuild" })).toContainText("0.89");
  await expect(page.locator("section", { hasText: "Creeping toward a limit" }).locator("tbody tr").first()).toContainText(/20\d\d/);
  await page.goto("/assess/accuracy");
  await expect(page.locator("main table").first()).toBeVisible();
});

test("the glossary says every measure with its unit, formula, source and an example", async ({ page }) => {
  await page.goto("/assess/glossary");
  const cpi = page.locator("#m-cpi");
  await expect(cpi).toContainText("Earned value divided by actual cost");
  await expect(cpi).toContainText("0.");
  expect(await page.locator("main [id^=m-]").count()).toBeGreaterThan(120);
});

test("two periods side by side: what moved, in a sentence, a plot with tails and a bridge that adds up", async ({ page }) => {
  await page.goto("/publish/compare");
  await expect(page.locator("h1")).toContainText(/Since 30 Sep 2026 the forecast rose by €\d+ k to €94\.\d\d M; 3 projects got worse/);
  await expect(page.locator("main tr[data-project=LW-07]")).toContainText("+6");
  await page.locator("summary", { hasText: "The steps as a table" }).click();
  const cents = (text) => Math.round(Number(text.replace(/[€,]/g, "").replace("−", "-")) * 100);
  let sum = 0;
  for (const cell of await page.locator("main details td.num").allTextContents()) sum += cents(cell);
  expect(Math.round(sum / 100_000)).toBe(Number((await page.locator("h1").textContent()).match(/rose by €(\d+) k/)[1]));
  await page.locator("select[name=with]").selectOption({ label: "April 2026" });
  await expect(page.locator("h1")).toContainText("Since 30 Apr 2026");
});

test("the keyboard leads to Check and Assess", async ({ page }) => {
  await page.goto("/");
  for (const [key, path] of [
    ["c", "check"],
    ["s", "assess"],
    ["e", "explain"],
    ["b", "publish"],
  ]) {
    await page.keyboard.press("g");
    await page.keyboard.press(key);
    await expect(page).toHaveURL(new RegExp("/" + path));
    await page.waitForLoadState(); // keys are heard once the page is there, not once its address is
  }
});

test.describe("a lead", () => {
  test.use({ as: "okafor" });
  test("sees what was found in the own projects and no others", async ({ page }) => {
    await page.goto("/check?show=all");
    for (const code of await page.locator("main tr[data-finding] td.of a").allTextContents())
      expect(["LW-07", "LW-12", "BR-07", "BV-07"].includes(code) || code.length === 5).toBe(true);
    expect((await page.request.get("/projects/BR-03/assess")).status()).toBe(404);
    expect((await page.request.get("/check?scope=BR-03")).status()).toBe(404);
  });
});
