import { execFileSync, spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "@playwright/test";

// An office that begins with an empty file, on a server of its own.
const home = "http://127.0.0.1:8191";
let server, folder, code;

test.beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), "begin-"));
  const db = join(folder, "new.db");
  execFileSync("bin/turret", ["init", "--db", db, "--currency", "EUR"]);
  server = spawn("bin/turret", ["serve", "--db", db, "--addr", "127.0.0.1:8191"]);
  code = await new Promise((resolve, reject) => {
    let said = "";
    const hear = (chunk) => {
      said += chunk;
      const found = said.match(/code=([A-Z0-9]+)[\s\S]*Turret is at/);
      if (found) resolve(found[1]);
    };
    server.stdout.on("data", hear);
    server.stderr.on("data", hear);
    server.on("exit", () => reject(new Error(said)));
  });
});

test.afterAll(() => {
  server?.kill();
  rmSync(folder, { recursive: true, force: true });
});

// typed fills the first empty row of a table to edit and saves it.
async function typed(page, cells) {
  const row = page.locator("tr.blank").first();
  for (const [head, value] of Object.entries(cells)) {
    const field = row.getByLabel(head, { exact: true });
    if (await field.evaluate((e) => e.tagName === "SELECT")) await field.selectOption(value);
    else await field.fill(value);
  }
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByRole("status").first()).toContainText("Saved for");
}

test("from nothing to a project on the Lookout by typing alone", async ({ page }) => {
  const step = async (name) => {
    await page.goto(`${home}/?asof=2026-10-31`);
    await page.locator(".begin").getByRole("link", { name, exact: true }).click();
  };
  await page.goto(`${home}/begin?code=${code}`);
  await page.getByLabel("Your name").fill("Ada Marsh");
  await page.getByLabel("Sign-in name").fill("ada");
  await page.getByLabel(/Password/).fill("a rather long password");
  await page.getByRole("button", { name: "Begin" }).click();
  await expect(page.locator(".masthead summary")).toHaveText("Ada Marsh");

  await step("Structure");
  await typed(page, { Code: "PF", Name: "All works", Level: "portfolio" });
  await step("Cost codes");
  await typed(page, { Code: "10", Name: "Works", Type: "capital" });
  await step("A project");
  await typed(page, {
    Code: "W-1",
    Name: "New weir",
    Parent: "PF",
    Lead: "Ada Marsh",
    "Planned start": "2026-09-01",
    "Planned finish": "2027-03-31",
    Status: "open",
  });

  await step("Its plan");
  await expect(page.locator("h1")).toContainText("has no schedule yet");
  await page.locator("[data-plan-add]").getByLabel("code").fill("A1");
  await page.locator("[data-plan-add]").getByLabel("name").fill("Build the weir");
  await page.getByRole("button", { name: "Add" }).click();
  await expect(page.locator("[data-plan-answer]")).toContainText("1 change, not saved");
  await page.getByLabel("A1 start", { exact: true }).fill("2026-09-01");
  await page.getByLabel("A1 finish", { exact: true }).fill("2027-03-31");
  await page.getByLabel("A1 finish", { exact: true }).press("Enter");
  await expect(page.locator("[data-plan-answer]")).toContainText("3 changes, not saved");
  await page.getByLabel("Why").fill("The first plan");
  await page.getByRole("button", { name: "Save as a revision" }).click();
  await expect(page.getByRole("status").first()).toContainText("Saved as a revision for October 2026");

  await page.goto(`${home}/edit/budget?project=W-1&asof=2026-10-31`);
  await typed(page, { "Cost code": "10", Amount: "100000", Month: "2026-10" });
  await page.goto(`${home}/edit/actuals?project=W-1&asof=2026-10-31`);
  await typed(page, { "Cost code": "10", Date: "2026-10-12", Amount: "120000" });

  await page.goto(`${home}/?asof=2026-10-31`);
  await expect(page.locator(".begin")).toHaveCount(0);
  const row = page.locator("tr[data-project=W-1]");
  await expect(row).toContainText("New weir");
  await row.getByRole("link", { name: "New weir" }).click();
  await expect(page.locator("main")).toContainText("€120 k");
});
