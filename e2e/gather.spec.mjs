import { readFileSync } from "node:fs";
import { drop, load, meanStatuses, meanWorkbook, month } from "./senders.mjs";
import { expect, test } from "./turret.mjs";

// A period gathered by hand from the six senders of examples/november-2026, and the next month from the same ones.
test.describe.configure({ mode: "serial" });
test.use({ baseURL: "http://127.0.0.1:8178" });

test("at first everything of November is missing", async ({ page }) => {
  await page.goto("/gather?asof=2026-11-30");
  await expect(page.locator("h1")).toContainText("27 of 135 inputs for November 2026 have come");
  await expect(page.locator("tr[data-project=LW-07] .slot").nth(3)).toContainText("stale");
});

test("the ledger is recognised by itself, and what it would do is said before it is done", async ({ page }) => {
  await drop(page, "Finance", month("november", "finance/GL-extract-2026-11.csv"));
  const sheet = page.locator("details.sheet");
  await expect(sheet).toContainText("read as Actual costs");
  await expect(sheet).toContainText("left out: Posted by");
  await sheet.locator("summary").click();
  await expect(sheet).toContainText("Windows-1252, CRLF, separated by semicolon, head in row 4, decimal comma, dates day first");
  await expect(page.locator("#consequences h2").first()).toContainText(/Loading it would move: actual cost \+€6\.\d\d M/);
  await load(page);
  await page.getByRole("link", { name: "Back to Gather" }).click();
  await expect(page.locator("tr[data-project=LW-07] .slot").nth(3)).toContainText("received");
});

test("the same file a second time is refused, with the load that it was", async ({ page }) => {
  await drop(page, "Finance", month("november", "finance/GL-extract-2026-11.csv"));
  await expect(page.locator("#consequences")).toContainText(/the same file is load \d+/);
  await expect(page.locator("button[data-load]")).toHaveCount(0);
});

test("a workbook's own words are given a meaning once", async ({ page }) => {
  await drop(page, "Locks and Weirs", month("november", "locks-and-weirs/LW return November 2026.xlsx"));
  await expect(page.locator("#consequences h2").first()).toContainText("as it is, nothing would be loaded");
  await meanWorkbook(page);
  await expect(page.locator(".warnings")).toContainText("columns that it lacks keep what stood");
  await expect(page.locator("#consequences")).toContainText("Crane barge refit");
  await load(page);
  await expect(page.locator("main")).toContainText("rows of Forecast");
});

test("statuses in other words, from a program of the sender's own", async ({ page }) => {
  await drop(page, "Locks and banks", month("november", "locks-and-banks-status/status 2026-11.json"));
  await meanStatuses(page);
  await load(page);
});

test("cells copied from a spreadsheet and a partner's own files go in as they are", async ({ page }) => {
  await drop(page, "Boats and banks", month("november", "boats-and-banks/activities.txt"));
  await expect(page.locator("details.sheet")).toContainText("read as Schedule");
  await load(page);
  await drop(page, "Canoe partner", month("november", "canoe-partner/activities.csv"), month("november", "canoe-partner/status.csv"));
  await load(page);
  await page.goto("/gather/load?asof=2026-11-30");
  await page.getByLabel("Sent by").fill("Canoe partner");
  await page.getByLabel("or paste cells").fill("project\toverall\tcommentary\nBV-04\twatch\tThe steps wait for the low water.\n");
  await page.getByRole("button", { name: "Look at it" }).click();
  await expect(page.locator("#consequences details.change")).toContainText("Status of BV-04: 1 changed");
  await load(page);
});

test("errors are shown where they stand, to be fixed by the sender", async ({ page }) => {
  await drop(page, "Data and Telemetry", month("november", "data-and-telemetry/DT 2026-11.zip"));
  const c = page.locator("#consequences");
  await expect(c.locator("h2").first()).toContainText("7 problems");
  await expect(c).toContainText("2026-11-31");
  await expect(c).toContainText("expected a day of the calendar");
  await expect(c.locator("td.bad").first()).toHaveText("110");
  const [file] = await Promise.all([page.waitForEvent("download"), c.getByRole("link", { name: /actuals.csv to fix/ }).click()]);
  expect(file.suggestedFilename()).toBe("to fix DT 2026-11 actuals.xlsx");
  const [list] = await Promise.all([page.waitForEvent("download"), c.getByRole("link", { name: "all problems (CSV)" }).click()]);
  expect(readFileSync(await list.path(), "utf8")).toContain("about 400");
  await page.getByRole("button", { name: "Discard these files" }).click();
  await expect(page.locator("h1")).toHaveText("Load what came in");
});

test("the next month needs no hand", async ({ page }) => {
  for (const [source, ...files] of [
    ["Finance", "finance/GL-extract-2026-12.csv"],
    ["Locks and Weirs", "locks-and-weirs/LW return December 2026.xlsx"],
    ["Locks and banks", "locks-and-banks-status/status 2026-12.json"],
    ["Boats and banks", "boats-and-banks/activities.txt"],
  ]) {
    await page.goto("/gather/load?asof=2026-12-31");
    await page.getByLabel("Sent by").fill(source);
    await page.locator("input[type=file]").setInputFiles(files.map((f) => month("december", f)));
    await page.waitForURL(/\/gather\/drafts\//);
    await expect(page.locator("main")).toContainText("as remembered of this sender");
    await load(page);
  }
  await page.goto("/gather?asof=2026-12-31");
  await expect(page.locator("tr[data-project=LW-07] .slot").nth(2)).toContainText("received");
});

test("a load is withdrawn, and what was before it is current again", async ({ page }) => {
  await page.goto("/projects/BV-04?asof=2026-11-30");
  await expect(page.locator("main")).toContainText("The steps wait for the low water.");
  await page.goto("/loads?source=Canoe+partner");
  await page.locator("tbody a").first().click();
  await page.getByText("Withdraw this load").click();
  await page.getByLabel("Why").fill("Sent for another project");
  await page.getByRole("button", { name: "Withdraw" }).click();
  await expect(page.locator("main")).toContainText("withdrawn");
  await page.goto("/projects/BV-04?asof=2026-11-30");
  await expect(page.locator("main")).not.toContainText("The steps wait for the low water.");
  await page.goto("/setup/audit?act=withdraw");
  await expect(page.locator("tbody")).toContainText("Sent for another project");
});

test("reminders are written to those who have not sent", async ({ page }) => {
  await page.goto("/gather?asof=2026-11-30&show=wanting");
  await page.locator("tr[data-project=DT-04]").getByRole("button", { name: "Remind" }).click();
  await expect(page.locator("h1")).toHaveText("1 written.");
  const [mail] = await Promise.all([page.waitForEvent("download"), page.locator("tbody a").first().click()]);
  expect(readFileSync(await mail.path(), "utf8")).toMatch(/To: <otani@ostrel\.example>[\s\S]*DT-04 Radio mast leases/);
});

test("two people edit the same cell: both values are shown and nothing is lost", async ({ page, browser }) => {
  const path = "/edit/status?project=LW-07";
  await page.goto(path);
  const other = await (await browser.newContext({ baseURL: "http://127.0.0.1:8178" })).newPage();
  await other.goto("/sign-in");
  await other.locator("button[value=okafor]").click();
  await other.waitForURL((url) => url.pathname === "/");
  await other.goto(path);
  await other.locator("textarea").fill("From the lead.");
  await other.getByRole("button", { name: "Save" }).click();
  await expect(other.locator(".done")).toContainText(/Saved for \w+ \d+ as load/);
  await page.locator("textarea").fill("From the office.");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.locator(".problem")).toContainText("yours “From the office.”, theirs “From the lead.”");
  await expect(page.locator("textarea")).toHaveValue("From the office.");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.locator(".done")).toContainText(/Saved for \w+ \d+ as load/);
  await other.context().close();
});

test("by keyboard alone: to Gather, into the file field, and a table is typed in", async ({ page }) => {
  await page.goto("/");
  await page.keyboard.press("g");
  await page.keyboard.press("a");
  await expect(page).toHaveURL(/\/gather/);
  await page.goto("/edit/activities?project=LW-07");
  const name = page.locator("input[name^='c-']:not([type=hidden])").first();
  await name.focus();
  await page.keyboard.press("ArrowDown");
  await page.keyboard.type(" x");
  await expect(page.locator("[data-sheet-state]")).toHaveText("1 cell changed, not saved yet");
  await page.keyboard.press("Escape");
  await expect(page.locator("[data-sheet-state]")).toHaveText("");
});

// Twenty problems in one file are mended on the page: a meaning for all its rows, a cell corrected, a row left out with a reason; each is
// listed and can be undone by itself.
test("a file with mistakes is put right on the page", async ({ page }) => {
  await page.goto("/gather/load?asof=2026-11-30");
  await page.fill("input[name=source]", "Quay Works");
  await page.fill(
    "textarea[name=pasted]",
    [
      "Job\tAccount\tPosting date\tNet k€\tVoucher",
      "LW-07\tDigging\t2026-11-03\t12.5\tV1",
      "LW-07\tDigging\t2026-11-04\tabc\tV2",
      "LW-99\tDigging\t2026-11-04\t3\tV3",
      "Total\t\t\t20.5\t",
    ].join("\n"),
  );
  await page.click("text=Look at it");
  await page.locator(".unknowns tr", { hasText: "Digging" }).locator("select").selectOption({ index: 3 });
  await page.click("text=Use these meanings");
  const wrong = (text) => page.locator(".mend").filter({ has: page.locator(`[name=says][value="${text}"]`) });
  await wrong("abc").locator("[name=says]").fill("4");
  await wrong("abc").getByRole("button", { name: "Correct it here" }).click();
  await wrong("LW-99").locator("[name=reason]").fill("a project of another office");
  await wrong("LW-99").getByRole("button", { name: "Leave out the row" }).click();
  await expect(page.getByRole("status").first()).toContainText("the reason stays with the load");
  await expect(page.locator(".warnings")).toContainText("row 5 states 20500.00 in Net k€, the rows above come to 16500.00");
  await expect(page.locator(".notes")).toContainText("amount times 1000: “12.5” in row 2 is read as 12500");
  await page.locator("details.sheet summary").click();
  const chosen = page.locator(".choices li");
  await expect(chosen).toHaveCount(3);
  await chosen.filter({ hasText: "row 4 is left out" }).getByRole("button", { name: "undo" }).click();
  await expect(page.locator(".troubles")).toContainText("LW-99");
  await page.getByRole("button", { name: "Keep as refused" }).click();
  await expect(page.getByRole("status").first()).toContainText("Kept as refused, for 1 problem.");
  await page.goto("/gather/load?asof=2026-11-30");
  await expect(page.locator("table")).toContainText("refused");
});
