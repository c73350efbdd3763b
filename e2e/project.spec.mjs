import { enter, expect, test } from "./turret.mjs";

test("tells what a project costs, when it ends and what its lead says", async ({ page }) => {
  await page.goto("/projects/LW-07");
  await expect(page.locator("h1")).toHaveText(
    "Hallin Lock rebuild will cost €1.78 M more than its budget and finish 38 working days late. Its lead declares it on track.",
  );
  await expect(page.getByText("2 steps better than computed").first()).toBeVisible();
  await expect(page.locator(".strip svg")).toContainText("Gates hung");
  await expect(page.locator(".strip svg")).toContainText("31 Oct 2026");
});

test("the cost table adds up", async ({ page }) => {
  await page.goto("/projects/BR-03");
  const table = page.locator("table", { hasText: "Cost code" });
  const cents = async (rows) => {
    const list = [];
    for (const row of await rows.all()) {
      const cells = await row.locator("td.num").allTextContents();
      list.push(cells.map((c) => Math.round(Number(c.replace("−", "-").replaceAll(",", "")) * 100)));
    }
    return list;
  };
  const lines = await cents(table.locator("tbody tr"));
  const [total] = await cents(table.locator("tfoot tr"));
  expect(lines.length).toBeGreaterThan(3);
  for (let i = 0; i < total.length; i++) expect(lines.reduce((sum, l) => sum + l[i], 0)).toBe(total[i]);
  for (const [budget, , actual, toGo, estimate, variance] of [...lines, total]) {
    expect(actual + toGo).toBe(estimate);
    expect(budget - estimate).toBe(variance);
  }
});

test("a cell of the cost table and a milestone lead to their rows", async ({ page }) => {
  await page.goto("/projects/LW-07");
  const cell = page.locator("table", { hasText: "Cost code" }).locator("tbody tr").first().locator("td.num a").last();
  const text = await cell.textContent();
  await cell.click();
  const margin = page.locator("#margin");
  await expect(margin.locator("h2")).toHaveText("Variance at completion, 11 Own staff");
  await expect(margin.locator(".figure")).toHaveText(`−€${text.replace("−", "")}`);
  await expect(page).toHaveURL(/trace=vac/);
  await page.keyboard.press("Escape");
  await expect(page).toHaveURL(/\/projects\/LW-07$/);
  await page
    .getByRole("row", { name: /Lock commissioned/ })
    .locator("td.num a")
    .click();
  await expect(margin.locator(".figure")).toHaveText("+38");
  await expect(margin).toContainText(/activities-2026-10\.csv, row \d+/);
});

test("traces by keyboard alone, and gives the focus back", async ({ page }) => {
  await page.goto("/projects/LW-07");
  const figure = page.locator(".facts a").nth(1);
  await figure.focus();
  await page.keyboard.press("t");
  await expect(page.locator("#margin h2")).toBeFocused();
  await expect(page.locator("#margin")).toContainText("more rows");
  await page.keyboard.press("Escape");
  await expect(page.locator("#margin")).toBeEmpty();
  await expect(figure).toBeFocused();
  await expect(page).toHaveURL(/\/projects\/LW-07$/);
});

test("sections, search and rows by key", async ({ page }) => {
  await page.goto("/");
  await page.keyboard.press("j");
  await page.keyboard.press("j");
  await page.keyboard.press("Enter");
  await expect(page.locator("h1")).toContainText("Crane barge refit");
  await page.keyboard.press("g");
  await page.keyboard.press("p");
  await expect(page.locator("h1")).toHaveText("27 open projects; 9 proposed, 66 closed.");
  await expect(async () => {
    await page.keyboard.press("/"); // heard once the scripts of the page are there
    await expect(page.locator("#find")).toBeFocused({ timeout: 500 });
  }).toPass();
  await page.keyboard.type("bv-05");
  await page.keyboard.press("Enter");
  await expect(page.locator("h1")).toContainText("Berth booking service");
  await page.locator("body").click({ position: { x: 5, y: 700 } });
  await page.keyboard.press("?");
  await expect(page.getByRole("dialog")).toContainText("trace the focused figure");
});

test("works by address alone, without scripts", async ({ browser }) => {
  const context = await browser.newContext({ javaScriptEnabled: false });
  const page = await context.newPage();
  await enter(page, "osei");
  await page.goto("/projects/LW-07?trace=eac");
  await expect(page.locator("#margin")).toContainText("Actual cost plus forecast to go; where there is no forecast");
  await page.locator("#margin .close").click();
  await expect(page.locator("#margin section")).toHaveCount(0);
  await page.goto("/");
  await page.getByRole("combobox", { name: "Status" }).selectOption("act");
  await page.getByRole("button", { name: "Show" }).click();
  await expect(page.locator("tr[data-project]")).toHaveCount(7);
  await context.close();
});

test("a request that fails says so in place", async ({ page }) => {
  await page.goto("/projects/LW-07");
  await page.route("**/projects/LW-07?trace=*", (route) => route.abort());
  await page.locator(".facts a").first().click();
  await expect(page.getByRole("alert")).toContainText("That did not arrive. Try again");
});

test("an address that is wrong has a page of its own", async ({ page }) => {
  await page.goto("/projects/%3Cscript%3E");
  await expect(page.locator("h1")).toContainText("Not found");
});

test.describe("what an office wants to know of its projects", () => {
  test.use({ baseURL: "http://127.0.0.1:8181" });
  test("a field is made, filled, shown, filtered by and explained; a contact and a document stand with the project", async ({ page }) => {
    const at = "asof=2026-12-31";
    const said = page.getByRole("status").first();
    const save = page.getByRole("button", { name: "Save", exact: true });
    await page.goto(`/setup?${at}`);
    await page.getByRole("link", { name: "Own fields" }).click();
    const blank = page.locator("tr.blank").first();
    await blank.getByLabel("Code").fill("Bank");
    await blank.getByLabel("Name").fill("Bank of the river");
    await blank.getByLabel("Type").selectOption("choice");
    await blank.getByLabel("Choices").fill("left, right");
    await save.click();
    await expect(page.getByRole("alert").first()).toContainText("small letters, digits and _");
    await page.getByLabel("Code").last().scrollIntoViewIfNeeded();
    await page.locator("[aria-invalid]").fill("bank");
    await save.click();
    await expect(said).toContainText("1 field added");

    await page.goto(`/projects/BR-03?${at}`);
    await expect(page.locator("dl.pairs")).toContainText("Bank of the river");
    await page.getByRole("link", { name: "Edit the project" }).click();
    await page.getByLabel("Crew at most").fill("many");
    await page.getByLabel("Bank of the river").selectOption("right");
    await save.click();
    await expect(page.getByRole("alert").first()).toContainText("own.crew “many”: expected a number such as 1234.50");
    await expect(page.getByLabel("Bank of the river")).toHaveValue("right");
    await page.getByLabel("Crew at most").fill("31");
    await save.click();
    await expect(said).toContainText("1 row of projects changed");

    await page.goto(`/projects/BR-03?${at}`);
    await page.locator("dl.pairs").getByRole("link", { name: "right" }).click();
    await expect(page.locator("#margin")).toContainText(/Bank of the river: right, was nothing|Bank of the river: right/);
    await page.goto(`/projects/BR-03?${at}`);
    await page.getByRole("link", { name: "Edit contacts" }).click();
    const contact = page.locator("tr.blank").first();
    await contact.getByLabel("Name").fill("C. Marsh");
    await contact.getByLabel("About").fill("the gates");
    await contact.getByLabel("Email").fill("c.marsh@ostrel.example");
    await save.click();
    await expect(said).toContainText("1 contact added");
    await page.goto(`/projects/BR-03?${at}`);
    await page.getByRole("link", { name: "Edit documents" }).click();
    const document = page.locator("tr.blank").first();
    await document.getByLabel("Title").fill("Drawings");
    await document.getByLabel("Address").fill("javascript:alert(1)");
    await save.click();
    await expect(page.getByRole("alert").first()).toContainText("an address that begins with https://");
    await page.locator("[aria-invalid]").fill("https://files.ostrel.example/br-03/drawings");
    await save.click();
    await page.goto(`/projects/BR-03?${at}`);
    await expect(page.getByRole("link", { name: "c.marsh@ostrel.example" })).toHaveAttribute("href", "mailto:c.marsh@ostrel.example");
    await expect(page.getByRole("link", { name: "Drawings" })).toHaveAttribute("rel", /noopener/);

    await page.goto(`/assess/table?${at}&columns=own.bank&columns=own.crew&columns=cpi`);
    await page.locator("select[name='own.bank']").selectOption("right");
    await expect(page.locator("tr[data-project]")).toHaveCount(1);
    await expect(page.locator("tr[data-project]")).toContainText("Tarn reservoir gates");
    await page.getByLabel("where").fill("own.crew > 31");
    await page.keyboard.press("Enter");
    await expect(page.getByText("No project answers these filters.")).toBeVisible();
    await page.goto(`/projects?${at}`);
    await page.locator("summary", { hasText: "Measures" }).click();
    await page.getByLabel("Bank of the river", { exact: true }).check();
    await page.getByRole("button", { name: "Show these" }).click();
    await expect(page.locator("tr[data-project=BR-03]")).toContainText("right");
    await expect(page.locator("tr[data-project=BR-01]")).toContainText("–");
  });
});
