import { readFile } from "node:fs/promises";
import { drop, load, meanStatuses, meanWorkbook, month } from "./senders.mjs";
import { enter, expect, test } from "./turret.mjs";

// Reports are composed, kept, written and sent; Lookout is arranged; the office asks and a lead answers. They have a server of their own.
test.describe.configure({ mode: "serial" });
test.use({ baseURL: "http://127.0.0.1:8181" });

const pages = (page) => page.locator("#preview svg.sheet");

async function saved(page, link) {
  const [file] = await Promise.all([page.waitForEvent("download"), link.click()]);
  return { name: file.suggestedFilename(), bytes: await readFile(await file.path()) };
}

test("a report is composed by ticking and by keys alone, and its pages follow", async ({ page }) => {
  await page.goto("/reports");
  await page.getByRole("link", { name: "Status table" }).click();
  await expect(pages(page).first()).toContainText("27 open projects are forecast to cost €94.84 M");
  await expect(pages(page).first()).toContainText("Status table");
  await page.getByLabel("Title").fill("For the board");
  await page.getByLabel("with a cover").check();
  await expect(pages(page).first()).toContainText("For the board");
  await expect(pages(page).first()).toContainText("Ostrel Waterways Board");
  const slips = page.locator("#preview");
  await page.getByLabel("Slip chart").check();
  await expect(page).toHaveURL(/part=slips/);
  await expect(slips).toContainText("Pages 1 to 4 of");
  await page.getByLabel("Slip chart").focus();
  for (let i = 0; i < 15; i++) await page.keyboard.press("Alt+ArrowUp");
  await expect(page).toHaveURL(/part=slips&part=headline&part=status/);
  await page.locator(".part", { hasText: "Status table" }).locator("summary").click();
  await page.getByLabel("Columns").first().fill("cpi, no_such");
  await expect(page.getByRole("alert")).toContainText("Column of Status table: “no_such”; expected a measure of the catalogue");
  await page.getByLabel("Columns").first().fill("cpi, expected_finish");
  await expect(page.locator("#preview [role=alert]")).toHaveCount(0);
  await page.goBack();
  await expect(page.getByRole("alert")).toContainText("no_such");
  await page.waitForLoadState("networkidle");
  await page.goForward();
  await expect(page.getByLabel("Title")).toHaveValue("For the board");
  await expect(page.locator(".part input[name=part]").first()).toHaveAttribute("value", "slips");
});

test("what is composed is kept by a name, written in every form, shared and taken away", async ({ page, browser, baseURL }) => {
  await page.goto("/reports/compose?part=headline&part=status&few.status=1&columns.status=cpi,vac&size=A3");
  await page.getByLabel("Save it as").fill("Needs attention");
  await page.getByLabel("for all to use").check();
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.locator("h1")).toHaveText("Needs attention");
  const pdf = await saved(page, page.getByRole("link", { name: "PDF", exact: true }));
  expect(pdf.name).toBe("needs-attention-2026-10-31.pdf");
  expect(pdf.bytes.subarray(0, 5).toString()).toBe("%PDF-");
  const html = await saved(page, page.getByRole("link", { name: "HTML" }));
  expect(html.bytes.toString()).toContain("Hallin Lock rebuild");
  expect(html.bytes.toString()).not.toContain("Canoe portage steps");
  const zip = await saved(page, page.getByRole("link", { name: "CSV" }));
  expect(zip.name).toBe("needs-attention-2026-10-31.zip");
  const xlsx = await saved(page, page.getByRole("link", { name: "XLSX" }));
  expect(xlsx.bytes.subarray(0, 2).toString()).toBe("PK");
  const other = await browser.newContext({ baseURL });
  const theirs = await other.newPage();
  await enter(theirs, "almeida");
  await theirs.goto("/reports");
  const row = theirs.locator("tr", { has: theirs.getByRole("link", { name: "Needs attention", exact: true }) });
  await expect(row).toContainText("shared by R. Osei");
  await row.getByRole("link", { name: "Needs attention" }).click();
  await expect(pages(theirs).first()).toContainText("27 open projects");
  await expect(pages(theirs).first()).not.toContainText("€");
  await other.close();
  await page.goto("/reports");
  await page.getByRole("button", { name: "Take away" }).click();
  await expect(page.getByRole("link", { name: "Needs attention", exact: true })).toHaveCount(0);
});

test("a mark that is no picture is refused with what was expected; one that is stands on the cover", async ({ page }) => {
  await page.goto("/reports");
  await page
    .getByLabel("Mark, as PNG or JPEG")
    .setInputFiles({ name: "mark.png", mimeType: "image/png", buffer: Buffer.from("<svg onload=alert(1)>") });
  await page.getByRole("button", { name: "Take it" }).click();
  await expect(page.getByRole("alert")).toHaveText("Mark: “mark.png”; expected a picture as PNG or JPEG; this file is neither.");
  const whole = Buffer.from("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==", "base64");
  await page.getByLabel("Mark, as PNG or JPEG").setInputFiles({ name: "half.png", mimeType: "image/png", buffer: whole.subarray(0, 45) });
  await page.getByRole("button", { name: "Take it" }).click();
  await expect(page.getByRole("alert")).toContainText("expected a whole picture");
  await page.getByLabel("Mark, as PNG or JPEG").setInputFiles({ name: "mark.png", mimeType: "image/png", buffer: whole });
  await page.getByRole("button", { name: "Take it" }).click();
  await expect(page.locator("main")).toContainText("with its mark");
  await page.goto("/reports/compose?report=executive");
  await expect(pages(page).first().locator("image")).toHaveCount(1);
  expect((await page.request.get("/pack.pdf")).status()).toBe(200);
  await page.goto("/reports");
  await page.getByRole("button", { name: "Without a mark" }).click();
  await expect(page.locator("main")).toContainText("without a mark");
});

test("a list sends what each may see, and tells who opened it", async ({ page, browser, baseURL }) => {
  await page.goto("/reports/sending");
  await page.locator("summary", { hasText: "Another list" }).click();
  await page.getByLabel("Name", { exact: true }).fill("Money every month");
  await page.locator("select[name=report]").selectOption({ label: "Cost report" });
  await page.locator("select[name=how]").selectOption("link");
  await page.getByRole("button", { name: "Save the list" }).click();
  await expect(page.getByRole("alert")).toContainText("at least one person or role");
  await expect(page.getByLabel("Name", { exact: true })).toHaveValue("Money every month");
  await page.getByLabel("C. Almeida").check();
  await page.getByRole("button", { name: "Save the list" }).click();
  const list = page.locator("tr", { hasText: "Money every month" });
  await list.first().getByRole("button", { name: "Send for October 2026" }).click();
  await expect(page.getByRole("status")).toContainText("Sent to 1");
  const sent = page.locator("section tr", { hasText: "by hand" });
  await expect(sent).toContainText("not yet");
  const other = await browser.newContext({ baseURL });
  const theirs = await other.newPage();
  await enter(theirs, "almeida");
  await theirs.goto("/");
  await expect(theirs.getByRole("heading", { name: "Sighting plot" })).toHaveCount(0); // it would tell of costs
  await expect(theirs.locator("tr[data-project=LW-07] .why")).not.toContainText("%");
  const link = theirs.getByRole("link", { name: "Cost report, October 2026, sent to you" });
  const answer = await theirs.request.get(await link.getAttribute("href"));
  expect(answer.headers()["content-type"]).toContain("application/pdf");
  await theirs.reload();
  await expect(link).toHaveCount(0);
  await other.close();
  await page.reload();
  await expect(sent).not.toContainText("not yet");
  await list.first().getByRole("button", { name: "End", exact: true }).click();
  await expect(page.locator("table").first()).not.toContainText("Money every month");
});

test("Lookout is arranged by keys, kept, and put back; a notice stands for all until it ends", async ({ page, browser, baseURL }) => {
  await page.goto("/");
  await page.getByRole("link", { name: "Arrange" }).click();
  await page.getByLabel("Trend 1", { exact: true }).check();
  await page.getByLabel("Measures of Trend 1").fill("cpi");
  await page.getByLabel("Trend 1", { exact: true }).focus();
  for (let i = 0; i < 10; i++) await page.keyboard.press("Alt+ArrowUp");
  await page.getByLabel("Sighting plot", { exact: true }).uncheck();
  await page.getByRole("button", { name: "Save for me" }).click();
  await expect(page.locator(".lookout > section").first().locator("h2")).toHaveText("Cost performance index");
  await expect(page.locator(".lookout svg.scene").first()).toBeVisible();
  await expect(page.getByRole("heading", { name: "Sighting plot" })).toHaveCount(0);
  await page.goto("/lookout/arrange");
  await page.getByLabel("Measures of Trend 1").fill("nonsense");
  await page.getByRole("button", { name: "Save for me" }).click();
  await expect(page.getByRole("alert")).toContainText("“nonsense”");
  await page.getByRole("button", { name: "As usual for my role" }).click();
  await page.getByLabel(/Text; it stands/).fill("Figures of **November** are due on the 9th.");
  await page.getByLabel("Until").fill("2099-01-01");
  await page.getByRole("button", { name: "Save the notice" }).click();
  const other = await browser.newContext({ baseURL });
  const theirs = await other.newPage();
  await enter(theirs, "okafor");
  await theirs.goto("/");
  await expect(theirs.locator(".notice strong")).toHaveText("November");
  await expect(theirs.getByRole("heading", { name: "Sighting plot" })).toBeVisible();
  await other.close();
  await page.getByLabel(/Text; it stands/).fill("");
  await page.getByRole("button", { name: "Save the notice" }).click();
  await page.goto("/");
  await expect(page.locator(".notice")).toHaveCount(0);
});

test("the office asks, the lead finds it waiting, answers and says that all is sent", async ({ page, browser, baseURL }) => {
  await page.goto("/publish");
  const row = page.locator("tr[data-obstacle]", { hasText: "R. Osei asked about cost" });
  await row.getByRole("link", { name: "answer" }).click();
  const lead = await browser.newContext({ baseURL });
  const theirs = await lead.newPage();
  await enter(theirs, "okafor");
  await theirs.goto("/");
  await theirs.getByRole("link", { name: "R. Osei asks about LW-07" }).click();
  await expect(theirs.locator("nav.inputs")).toContainText("Forecast");
  await theirs.getByLabel("Answer").fill("Divers in the old chamber. <b>No</b>, it does not hold.");
  await theirs.getByRole("button", { name: "Answer" }).click();
  await expect(theirs.locator("#said")).toContainText("answered by M. Okafor");
  await expect(theirs.locator("#said")).toContainText("<b>No</b>, it does not hold.");
  await theirs.getByRole("button", { name: "Everything is sent" }).first().click();
  await expect(theirs.locator("#said")).toContainText("Everything for October 2026 is sent. M. Okafor");
  await lead.close();
  await page.goto("/publish");
  await expect(row).toHaveCount(0);
  await page.getByRole("button", { name: "Put in review" }).click();
  await expect(page.locator("main")).toContainText("In review since");
  await page.getByRole("button", { name: "Back to work" }).click();
  await expect(page.locator("main")).toContainText("In work; due to be published by 13 Nov 2026");
});

async function letAllPass(page, reason) {
  for (let open = await page.locator("details.all").count(); open > 0; open--) {
    const all = page.locator("details.all").first();
    await all.locator("summary").click();
    await all.getByLabel("Because").fill(reason);
    await all.getByRole("button", { name: "Waive all" }).click();
    await expect(page.locator("details.all")).toHaveCount(open - 1);
  }
  for (let left = await page.locator("tr[data-obstacle]:not(.quiet)").count(); left > 0; left--) {
    const row = page.locator("tr[data-obstacle]:not(.quiet)").first();
    await row.locator("summary").click();
    await row.getByLabel("Because").fill(reason);
    await row.getByRole("button", { name: "Waive" }).click();
    await expect(page.locator("tr[data-obstacle]:not(.quiet)")).toHaveCount(left - 1);
  }
}

test("November goes from Gather to Publish, as the guide says", async ({ page, browser, baseURL }) => {
  await page.goto("/publish");
  await letAllPass(page, "Agreed with the board.");
  await page.locator("details.closing > summary").click();
  await page.getByRole("button", { name: "Close October 2026", exact: true }).click();
  await expect(page.locator("h1")).toContainText("October 2026 was closed on");
  await expect(page.getByRole("status")).toContainText("1 report was sent.");

  await drop(page, "Finance", month("november", "finance/GL-extract-2026-11.csv"));
  await load(page);
  await drop(page, "Locks and Weirs", month("november", "locks-and-weirs/LW return November 2026.xlsx"));
  await meanWorkbook(page);
  await load(page);
  await drop(page, "Locks and banks", month("november", "locks-and-banks-status/status 2026-11.json"));
  await meanStatuses(page);
  await load(page);
  await drop(page, "Boats and banks", month("november", "boats-and-banks/activities.txt"));
  await load(page);
  await drop(page, "Canoe partner", month("november", "canoe-partner/activities.csv"), month("november", "canoe-partner/status.csv"));
  await load(page);

  await page.goto("/?asof=2026-11-30");
  await page.getByRole("link", { name: /projects to explain/ }).click();
  await page
    .locator("main tr[data-project=LW-11]")
    .getByRole("link", { name: /^(explain|read)$/ })
    .click();
  await page.locator("#overall").getByRole("button", { name: "take it" }).click();
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByRole("status")).toContainText("is saved for");

  await page.goto("/publish?asof=2026-11-30");
  await letAllPass(page, "Sent by paper; will be in the next.");
  const reader = await browser.newContext({ baseURL });
  const theirs = await reader.newPage();
  await enter(theirs, "almeida");
  await theirs.goto("/?asof=2026-11-30");
  await page.locator("details.closing > summary").click();
  await page.getByRole("button", { name: "Close November 2026", exact: true }).click();
  await expect(page.locator("h1")).toContainText("November 2026 was closed on");
  await theirs.reload();
  await expect(theirs.getByRole("link", { name: "Executive pack, November 2026, sent to you" })).toBeVisible();
  await expect(theirs.locator(".scope")).toContainText("closed");
  await page.locator("summary", { hasText: "Reopen November 2026" }).click();
  await page.getByLabel("Because").fill("A ledger came late.");
  await page.getByRole("button", { name: "Reopen", exact: true }).click();
  await expect(page.locator("h1")).toContainText("Nothing stands in the way of closing November 2026");
  await theirs.getByRole("link", { name: "Hallin Lock rebuild" }).first().click(); // whoever reads meanwhile goes on
  await expect(theirs.locator("h1")).toContainText("Hallin Lock rebuild");
  await reader.close();
});
