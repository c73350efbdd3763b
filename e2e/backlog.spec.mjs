import { createServer } from "node:http";
import { drop, load } from "./senders.mjs";
import { enter, expect, test } from "./turret.mjs";

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

  // A pilot of ten items, planned evenly over two years, of which one is accepted; its tracker accepts the other nine.
  test("a run of a tracker turns a project from act to on track, and says so", async ({ page, browser, baseURL }) => {
    const csv = (name, ...lines) => ({ name, mimeType: "text/csv", buffer: Buffer.from(lines.join("\n") + "\n") });
    const items = Array.from({ length: 10 }, (_, i) => `PILOT,T${i},Item ${i},5,2026-01-05,${i ? "todo," : "accepted,2026-02-02"}`);
    await drop(
      page,
      "Pilot",
      csv(
        "projects.csv",
        "code,name,parent,lead,earned_value,planned_start,planned_finish",
        "PILOT,Pilot of tide tables,DT,S. Almeida,yes,2026-01-05,2027-12-31",
      ),
      csv("activities.csv", "project,code,name,kind,baseline_finish,finish", "PILOT,M1,In use,milestone,2027-12-31,2027-12-31"),
      csv("budget.csv", "project,cost_code,amount,from,to", "PILOT,21,100000,2026-01-05,2027-12-31"),
      csv("backlog.csv", "project,code,title,points,added,state,accepted", ...items),
    );
    await load(page);
    await page.goto("/projects/PILOT?asof=2026-11-30");
    const overall = page.locator(".opening .mark").first();
    await expect(overall).toContainText("act");

    const moves = items
      .slice(1)
      .map((_, i) => ({ seq: i + 1, project: "PILOT", code: `T${i + 1}`, state: "accepted", accepted: "2026-11-02" }));
    const tracker = createServer((_, answer) => answer.end(JSON.stringify({ items: moves, next: moves.length })));
    await new Promise((listening) => tracker.listen(0, "127.0.0.1", listening));
    try {
      const other = await browser.newContext({ baseURL });
      const setup = await other.newPage();
      await enter(setup, "tanaka");
      await setup.goto("/feeds");
      await setup.locator("[name=name]").fill("pilot-tracker");
      await setup.locator("[name=kind]").selectOption("work");
      await setup.locator("[name=address]").fill(`http://127.0.0.1:${tracker.address().port}`);
      await setup.getByRole("button", { name: "Save", exact: true }).click();
      await other.close();
      await page.goto("/feeds/pilot-tracker");
      await page.getByRole("button", { name: "Run now" }).click();
      await expect(page.locator("#runs")).toContainText("Percent complete 10.0 % to 100.0 %");
      await expect(page.locator("#runs")).toContainText("overall act to on track");
    } finally {
      tracker.close();
    }
    await page.goto("/projects/PILOT?asof=2026-11-30");
    await expect(overall).toContainText("on track");
  });
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
