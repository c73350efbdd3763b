import { spawn } from "node:child_process";
import { expect, test } from "./turret.mjs";

// Served below a path of a host name: whoever asks for anything beside it has found an address that was forgotten.
const host = "http://127.0.0.1:8192";
const below = `${host}/office/turret`;
let server;

test.use({ as: null });

test.beforeAll(async () => {
  server = spawn("bin/turret", ["demo", "--from", "bin/demo.db", "--addr", "127.0.0.1:8192", "--base-path", "/office/turret/"]);
  await new Promise((resolve, reject) => {
    let said = "";
    const hear = (chunk) => {
      said += chunk;
      if (said.includes(`Turret is at ${below}`)) resolve();
    };
    server.stdout.on("data", hear);
    server.stderr.on("data", hear);
    server.on("exit", () => reject(new Error(said)));
  });
});

test.afterAll(() => server?.kill());

test.beforeEach(async ({ page }) => {
  const beside = [];
  page.on("request", (r) => {
    const at = new URL(r.url());
    if (at.origin === host && !at.pathname.startsWith("/office/turret")) beside.push(r.url());
  });
  page.beside = beside;
});

test.afterEach(({ page }) => expect(page.beside).toEqual([]));

async function enter(page) {
  await page.goto(`${below}/money?asof=2026-09-30`);
  await expect(page).toHaveURL(/\/office\/turret\/sign-in\?/);
  await page.getByRole("button", { name: /Osei/ }).click();
  await expect(page).toHaveURL(`${below}/money?asof=2026-09-30`);
}

test("one signs in, goes through every section, and no address leads out of the path", async ({ page }) => {
  await enter(page);
  const seen = new Set();
  const waiting = await page.locator("nav a[href]").evaluateAll((list) => list.map((a) => a.getAttribute("href")));
  expect(waiting.length).toBeGreaterThan(8);
  for (const address of waiting) {
    if (seen.has(address)) continue;
    seen.add(address);
    await page.goto(host + address);
    await expect(page.locator("h1")).not.toBeEmpty();
    const out = await page
      .locator("[href^='/'], [src^='/'], [action^='/'], [formaction^='/'], [hx-get^='/']")
      .evaluateAll((list) =>
        list
          .flatMap((e) => ["href", "src", "action", "formaction", "hx-get"].map((name) => e.getAttribute(name)))
          .filter((to) => to?.startsWith("/") && !to.startsWith("/office/turret/") && to !== "/office/turret"),
      );
    expect(out, address).toEqual([]);
  }
  await page.goto(`${below}/nothing`);
  await expect(page.locator("main a").first()).toHaveAttribute("href", /^\/office\/turret/);
});

test("scripts ask below the path: traces, rows of the timeline, grids, plans and files", async ({ page }) => {
  await enter(page);
  await page.locator("[data-trace]").first().click();
  await expect(page.locator("#margin h2")).not.toBeEmpty();
  await expect(page).toHaveURL(/\/office\/turret\/money\?.*trace=/);

  await page.goto(`${below}/timeline?scope=LW`);
  await expect(page.locator("[data-ready=yes]")).toBeVisible();
  await page.locator(".tl-row [data-fold]").first().click();
  await expect(page.locator(".tl-row", { hasText: "fetching" })).toHaveCount(0);
  expect(await page.locator(".tl-row").count()).toBeGreaterThan(10);
  await page.locator(".tl-row.activity [data-open]").first().click();
  await expect(page.locator("#margin h2")).not.toBeEmpty();
  await page.locator(".tl-row.project [data-open]").first().click();
  await page.waitForURL(/\/office\/turret\/projects\//);

  await page.goto(`${below}/timeline/milestones`);
  const tools = page.locator(".table-tools");
  const [file] = await Promise.all([page.waitForEvent("download"), tools.getByRole("button", { name: "CSV" }).click()]);
  expect(file.suggestedFilename()).toContain("milestones");

  await page.goto(`${below}/projects/LW-07/money`);
  await expect(page.locator("[data-total]")).not.toBeEmpty();
  await page.goto(`${below}/gather/load`);
  await page.getByLabel("Sent by").fill("Canoe partner");
  await page.locator("input[type=file]").setInputFiles({
    name: "risks.csv",
    mimeType: "text/csv",
    buffer: Buffer.from("project,code,title,owner\nLW-07,R77,Ice,Ines Okafor\n"),
  });
  await page.waitForURL(/\/office\/turret\/gather\/drafts\//);
  await expect(page.locator("main")).toContainText("risks.csv");
});
