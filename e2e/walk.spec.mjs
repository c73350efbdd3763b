import { load, meanStatuses, meanWorkbook, month } from "./senders.mjs";
import { expect, test } from "./turret.mjs";

// The month of an analyst from Gather to Publish, every click counted: October is closed first, then November gathered from the files of its
// senders, checked, explained and closed.
test.use({ baseURL: "http://127.0.0.1:8182" });

// counted counts what a hand does: clicks, choices out of a list, files picked.
async function counted(page) {
  await page.addInitScript(() => {
    const add = () => sessionStorage.setItem("clicks", Number(sessionStorage.getItem("clicks") ?? 0) + 1);
    addEventListener("click", (event) => event.isTrusted && event.detail > 0 && add(), true);
    addEventListener("change", (event) => /^(SELECT)$/.test(event.target.tagName) && add(), true);
    addEventListener("change", (event) => event.target.type === "file" && add(), true);
  });
  return () => page.evaluate(() => Number(sessionStorage.getItem("clicks") ?? 0));
}

// waive lets every obstacle of each kind pass that stands in the way, with one reason a kind.
async function waive(page, reason) {
  for (;;) {
    const group = page.locator("section.finding:has(tr[data-obstacle]:not(.quiet))").first();
    if ((await group.count()) === 0) return;
    const all = group.locator("details.all");
    const form = (await all.count()) > 0 ? all : group.locator("tr[data-obstacle]:not(.quiet) details").first();
    const left = await page.locator("tr[data-obstacle]:not(.quiet)").count();
    await form.locator("summary").click();
    await form.getByLabel("Because").fill(reason);
    await form.getByRole("button", { name: /Waive/ }).click();
    await expect.poll(() => page.locator("tr[data-obstacle]:not(.quiet)").count()).toBeLessThan(left);
  }
}

async function close(page, name) {
  await page.locator("details.closing > summary").click();
  await page.getByRole("button", { name: `Close ${name}`, exact: true }).click();
  await expect(page.locator("h1")).toContainText(`${name} was closed on`);
}

async function take(page, source, ...files) {
  await page.getByLabel("Sent by").fill(source);
  await page.locator("input[type=file]").setInputFiles(files);
  await page.waitForURL(/\/gather\/drafts\//);
  await expect(page.locator("#consequences h2").first()).toBeVisible();
}

const more = (page) => page.getByRole("link", { name: "Load more" }).click();

test("November goes from Gather to Publish in at most seventy clicks, and nothing is lost", async ({ page }) => {
  const clicks = await counted(page);
  await page.goto("/publish");
  await waive(page, "The board knows; it is asked again in November.");
  await close(page, "October 2026");

  await page.getByRole("link", { name: "The period after" }).click();
  await page.getByRole("navigation", { name: "Steps of the period" }).getByRole("link", { name: "Gather" }).click();
  await expect(page.locator("h1")).toContainText("inputs for November 2026 have come");
  await page.getByRole("link", { name: "Load files" }).first().click();
  await take(page, "Finance", month("november", "finance/GL-extract-2026-11.csv"));
  await load(page);
  await more(page);
  await take(page, "Locks and Weirs", month("november", "locks-and-weirs/LW return November 2026.xlsx"));
  await meanWorkbook(page);
  await load(page);
  await more(page);
  await take(page, "Locks and banks", month("november", "locks-and-banks-status/status 2026-11.json"));
  await meanStatuses(page);
  await load(page);
  await more(page);
  await take(page, "Boats and banks", month("november", "boats-and-banks/activities.txt"));
  await load(page);
  await more(page);
  await take(page, "Canoe partner", month("november", "canoe-partner/activities.csv"), month("november", "canoe-partner/status.csv"));
  await load(page);
  await page.getByRole("link", { name: "Back to Gather" }).click();
  await page.getByRole("button", { name: /Remind the leads of/ }).click();
  await expect(page.locator("h1")).toContainText("written");

  const step = (name) => page.getByRole("navigation", { name: "Steps of the period" }).getByRole("link", { name }).click();
  await step("Check");
  await expect(page.locator("h1")).toContainText(/error/);
  await step("Assess");
  await expect(page.locator("h1")).toContainText(/act|watch/);
  await step("Explain");
  await page
    .locator("table[data-table=explain] tbody tr")
    .first()
    .getByRole("link", { name: /^(explain|read)$/ })
    .click();
  await page.locator("#text-overall").fill("The lock waits for its second gate; the board decides on the winter closure.");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByRole("status").first()).toContainText("saved for November 2026");
  await step("Publish");
  await waive(page, "Asked for again; the figures stand without it.");
  await close(page, "November 2026");
  const n = await clicks();
  console.log(`November took ${n} clicks`);
  expect(n).toBeLessThanOrEqual(70);

  // nothing is lost: every file is a load of November, and the pack can be read
  await page.goto("/loads?asof=2026-11-30");
  for (const file of ["GL-extract-2026-11.csv", "LW return November 2026.xlsx", "status 2026-11.json", "activities.txt"])
    await expect(page.locator("main")).toContainText(file);
  const pack = await page.request.get("/pack.pdf?asof=2026-11-30");
  expect(pack.headers()["content-type"]).toBe("application/pdf");
  await page.goto("/explain?asof=2026-11-30");
  await expect(page.locator("main")).toContainText("The lock waits for its second gate");
});
