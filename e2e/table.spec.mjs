import { readFile } from "node:fs/promises";
import { compareKeys, matches, sortKey } from "../internal/web/assets/js/cells.js";
import { expect, test } from "./turret.mjs";

test("tables sort numbers as numbers and days as days, what is missing last", () => {
  const sorted = (list, down) => [...list].sort((a, b) => compareKeys(sortKey(a), sortKey(b), down));
  expect(sorted(["+12", "−3", "–", "0", "1,250"], false)).toEqual(["−3", "0", "+12", "1,250", "–"]);
  expect(sorted(["+12", "−3", "–", "0", "1,250"], true)).toEqual(["1,250", "+12", "0", "−3", "–"]);
  expect(sorted(["3 Feb 2027", "–", "28 Jan 2027", "12 Dec 2026"], false)).toEqual(["12 Dec 2026", "28 Jan 2027", "3 Feb 2027", "–"]);
  expect(sorted(["slipping", "Missed", "done"], false)).toEqual(["done", "Missed", "slipping"]);
  expect(sorted(["€1.90 M", "−€880 k", "€880 k", "€12"], false)).toEqual(["−€880 k", "€12", "€880 k", "€1.90 M"]);
});

test("a filter asks for words, for what is not, for figures and days in a range, and for nothing", () => {
  const answers = (want) => ["Missed", "slipping", "–", "−3", "5", "€1.2 M", "31 Oct 2026", "1 Nov 2026"].filter((x) => matches(x, want));
  expect(answers("S")).toEqual(["Missed", "slipping"]);
  expect(answers("!i")).toEqual(["–", "−3", "5", "€1.2 M", "31 Oct 2026", "1 Nov 2026"]);
  expect(answers("=5")).toEqual(["5"]);
  expect(answers("<5")).toEqual(["−3"]);
  expect(answers("<= 5")).toEqual(["−3", "5"]);
  expect(answers("0..5")).toEqual(["5"]);
  expect(answers("5..€1.2 M")).toEqual(["5", "€1.2 M"]);
  expect(answers(">= 1 Nov 2026")).toEqual(["1 Nov 2026"]);
  expect(answers("31 Oct 2026..2026-11-01")).toEqual(["31 Oct 2026", "1 Nov 2026"]);
  expect(answers("–")).toEqual(["–"]);
  expect(answers("> late")).toEqual([]);
  expect(answers(" ").length).toBe(8);
  expect(["A. Yılmaz", "K. Ōtani", "J. Straßer"].map((name) => matches(name, { A: "yilmaz", K: "otani", J: "STRASSER" }[name[0]]))).toEqual(
    [true, true, true],
  );
});

const rows = (page, name) => page.locator(`table[data-table=${name}] tbody tr:visible:not([data-group])`);
const taken = async (page, button) => {
  const [file] = await Promise.all([page.waitForEvent("download"), button.click()]);
  return { name: file.suggestedFilename(), text: await readFile(await file.path(), "utf8") };
};

test("milestones are filtered, sorted, cut to columns, taken as shown, and the address keeps it all", async ({ page }) => {
  await expect(async () => {
    await page.goto("/timeline/milestones?asof=2026-09-30");
    await expect(page.getByText("are being simulated")).toBeHidden({ timeout: 1 });
  }).toPass();
  const tools = page.locator(".table-tools");
  await tools.getByRole("button", { name: "Filter" }).click();
  await page.getByLabel("Filter by Project").fill("LW-07");
  await page.getByLabel("Filter by Days").fill("> 0");
  await page.getByRole("button", { name: "Baseline" }).click();
  await tools.getByText("Columns").click();
  await tools.getByLabel("Reported to").uncheck();
  await expect(page.getByRole("columnheader", { name: "Reported to" })).toBeHidden();
  const first = tools.getByLabel("Days");
  await first.focus();
  for (let i = 0; i < 5; i++) await first.press("Alt+ArrowUp");
  await expect(page.locator("thead tr").first().locator("th").first()).toContainText("Days");
  await expect(tools.locator("[data-count]")).toContainText(/\d+ of \d+ rows/);
  const shown = await rows(page, "milestones").allInnerTexts();
  expect(shown.length).toBeGreaterThan(1);
  for (const text of shown) expect(text).toContain("LW-07");
  await expect(page).toHaveURL(/asof=2026-09-30/);
  const address = page.url();
  await page.goto("/projects");
  await page.goto(address);
  expect(await rows(page, "milestones").allInnerTexts()).toEqual(shown);
  const csv = await taken(page, tools.getByRole("button", { name: "CSV" }));
  expect(csv.name).toBe("milestones.csv");
  const lines = csv.text.trim().split("\n");
  expect(lines[0]).toBe("Days,Milestone,Project,State,Baseline,Actual or expected,Even odds,Four in five,Why");
  expect(lines.length).toBe(shown.length + 1);
  expect((await taken(page, tools.getByRole("button", { name: "XLSX" }))).text.slice(0, 2)).toBe("PK");
  await tools.getByRole("button", { name: "Filter" }).click();
  await expect(tools.locator("[data-count]")).toHaveText("");
});

test("a view is saved for all, opened in another period, and taken away by its owner alone", async ({ page, browser }) => {
  await page.goto("/timeline/dependencies?t-dependencies=if-state%3Dlate");
  const tools = page.locator(".table-tools").first();
  await tools.getByText("Views").click();
  await tools.getByLabel("Save what is shown as").fill("Late ones");
  await tools.getByLabel("for all to use").check();
  await tools.getByRole("button", { name: "Save" }).click();
  await expect(tools.getByRole("link", { name: "Late ones" })).toBeVisible();
  const other = await browser.newPage();
  await other.request.post("/enter", { form: { login: "tanaka" }, headers: { origin: new URL(page.url()).origin } });
  await other.goto(new URL("/timeline/dependencies?asof=2026-09-30", page.url()).href);
  await other.locator(".table-tools").first().getByText("Views").click();
  const link = other.getByRole("link", { name: "Late ones" });
  await expect(link).toHaveAttribute("href", /asof=2026-09-30/);
  await expect(other.getByRole("button", { name: "take away" })).toHaveCount(0);
  await link.click();
  await expect(other.getByLabel("Filter by State")).toHaveValue("late");
  await other.close();
  await tools.getByRole("button", { name: "take away" }).click();
  await expect(tools.getByText("No view of this table is saved yet.")).toBeVisible();
});

test("projects come by programme, open ones first, with the measures one chooses and totals of what is left", async ({ page }) => {
  await page.goto("/projects");
  await expect(page.locator("h1")).toHaveText("27 open projects; 9 proposed, 66 closed.");
  await expect(page.locator("tr.group").first()).toContainText("Banks and Reservoirs 6 projects");
  await page.getByText("Measures", { exact: true }).click();
  await page.locator("[data-measures]").getByLabel("Estimate at completion", { exact: true }).uncheck();
  await page.locator("[data-measures]").getByLabel("Cost performance index", { exact: true }).check();
  await page.getByRole("button", { name: "Show these" }).click();
  await expect(page.getByRole("columnheader", { name: "Cost performance index" })).toBeVisible();
  await expect(page.getByRole("columnheader", { name: "Estimate at completion", exact: true })).toHaveCount(0);
  await page.getByRole("button", { name: "Filter" }).click();
  await page.getByLabel("Filter by Lead").fill("yılmaz");
  expect(await rows(page, "projects").count()).toBe(3);
  await expect(page.locator("tr.group:visible")).toHaveCount(1);
});

test("a chart is taken as SVG that needs nothing else, as PNG, and as data", async ({ page }) => {
  await page.goto("/money");
  const tools = page.locator(".chart-tools").first();
  const svg = await taken(page, tools.getByRole("button", { name: "SVG" }));
  expect(svg.name).toMatch(/\.svg$/);
  expect(svg.text).toContain("@font-face");
  expect(svg.text).not.toContain("var(--");
  const png = await taken(page, tools.getByRole("button", { name: "PNG" }));
  expect(png.text.slice(1, 4)).toBe("PNG");
  const data = await taken(page, tools.getByRole("button", { name: "data" }));
  expect(data.text.split("\n")[0]).toBe('Month,Budget,Actual,Forecast,"Actual and forecast, added up"');
});

test.describe("a table to edit", () => {
  test.use({ baseURL: "http://127.0.0.1:8181" });
  test("hides the columns one does not need, keeps what stands in them, and the reason stays with the load", async ({ page }) => {
    await page.goto("/edit/risks?project=BR-03&asof=2026-12-31");
    await page.locator("summary", { hasText: "Columns" }).click();
    await page.locator("[data-columns]").getByLabel("Consequence").uncheck();
    await expect(page.getByRole("columnheader", { name: "Consequence" })).toBeHidden();
    const kept = await page
      .locator("tbody tr")
      .first()
      .locator("input")
      .evaluateAll((list) => list.map((x) => x.value).join("|"));
    await page.reload();
    await expect(page.getByRole("columnheader", { name: "Consequence" })).toBeHidden();
    await page.locator("tbody tr").first().getByLabel("Title").fill("Ground softer than thought");
    await page.getByLabel("Why, if it needs saying").fill("The borings came back.");
    await page.getByRole("button", { name: "Save" }).click();
    await expect(page.getByRole("status").first()).toContainText("Saved for December 2026");
    await expect(page.getByRole("columnheader", { name: "Consequence" })).toBeHidden();
    const now = await page
      .locator("tbody tr")
      .first()
      .locator("input")
      .evaluateAll((list) => list.map((x) => x.value).join("|"));
    const title = kept.split("|").findIndex((x, i) => x !== now.split("|")[i] && !x.includes("\u001f"));
    expect(now.split("|").filter((x, i) => i !== title && !x.includes("\u001f"))).toEqual(
      kept.split("|").filter((x, i) => i !== title && !x.includes("\u001f")),
    );
    await page.goto("/loads?asof=2026-12-31");
    await page.getByRole("row", { name: "The borings came back." }).getByRole("link").first().click();
    await expect(page.locator("main")).toContainText("The borings came back.");
  });
});
