// What people do with the files of the six senders in examples.
import { expect } from "./turret.mjs";

export const month = (m, path) => `examples/${m}-2026/${path}`;

export async function drop(page, source, ...files) {
  await page.goto("/gather/load?asof=2026-11-30");
  await page.getByLabel("Sent by").fill(source);
  await page.locator("input[type=file]").setInputFiles(files);
  await page.waitForURL(/\/gather\/drafts\//);
  await expect(page.locator("#consequences h2").first()).toBeVisible({ timeout: 30_000 });
}

export async function load(page) {
  await page.locator("button[data-load]").click();
  await expect(page.locator("h1")).toHaveText("Loaded.", { timeout: 30_000 });
}

// meanWorkbook gives the heads of the programme's own workbook their meaning, once.
export async function meanWorkbook(page) {
  await page.getByLabel("What Task means", { exact: true }).selectOption("activity");
  await page.getByLabel("What Phase means", { exact: true }).selectOption("summary");
  await page.getByRole("button", { name: "Use these meanings" }).click();
  await expect(page.locator("button[data-load]")).toBeVisible({ timeout: 30_000 });
}

// meanStatuses gives the words of a sender's statuses their meaning.
export async function meanStatuses(page) {
  for (const [word, meaning] of [
    ["green", "on track"],
    ["amber", "watch"],
    ["red", "act"],
  ]) {
    for (const box of await page.getByLabel(`What ${word} means`, { exact: true }).all()) await box.selectOption(meaning);
  }
  await page.getByRole("button", { name: "Use these meanings" }).click();
}
