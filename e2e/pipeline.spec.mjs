import { enter, expect, test } from "./turret.mjs";

// The pipeline: a proposal is typed by a lead, rated beside the others, chosen under the limits of money and divers, accepted, and a project.
test.describe("on a server that may change", () => {
  test.use({ baseURL: "http://127.0.0.1:8179" });
  test("a proposal is typed, rated, chosen, accepted, and becomes a project", async ({ page, browser, baseURL }) => {
    const other = await browser.newContext({ baseURL });
    const lead = await other.newPage();
    await enter(lead, "okafor");
    await lead.goto("/pipeline/new");
    await lead.getByLabel("What it is called").fill("Lock keeper's <house>");
    await lead.getByLabel("Why it is wanted").fill("The roof lets the rain in.");
    await lead.getByLabel("Programme").selectOption({ label: "Locks and Weirs" });
    await lead.getByLabel("2027", { exact: true }).fill("200 000");
    await lead.getByLabel("Mostly on").selectOption({ label: "21 Civil works" });
    await lead.getByLabel("More people on the water").selectOption("2");
    await lead.getByRole("button", { name: "Propose it" }).press("Enter");
    await expect(lead.getByRole("status")).toContainText("Lock keeper's <house> is proposed as NEW-01 for October 2026.");
    await expect(lead.locator("table")).toContainText("Lock keeper's <house>");
    await other.close();

    await page.goto("/pipeline/ranking");
    const row = page.locator("tbody tr").filter({ hasText: "Lock keeper's <house>" });
    await row.getByLabel("Safety of NEW-01").fill("9");
    await row.getByLabel("Safety of NEW-01").press("Enter");
    await expect(page.getByRole("alert")).toContainText("0 to 5");
    await row.getByLabel("Safety of NEW-01").fill("4");
    await row.getByLabel("Urgency of NEW-01").fill("5");
    await row.getByLabel("Use for visitors of NEW-01").fill("3");
    await row.getByLabel("Water and nature of NEW-01").fill("3");
    await row.getByLabel("Urgency of NEW-01").press("Enter");
    await expect(page.getByRole("status")).toContainText("Ratings of 1 project were saved for October 2026");

    await page.goto("/pipeline/selection");
    await page.getByLabel("At most, 2027", { exact: true }).fill("2500000");
    await page.getByLabel("At most, underwater inspector, 2027Q3").fill("1");
    await page.getByLabel("At most, underwater inspector, 2027Q3").press("Enter");
    await expect(page.getByText("It is proved that nothing is better.")).toBeVisible();
    const chosen = page.locator("tr.taken");
    await expect(chosen.filter({ hasText: "Lock keeper's <house>" })).toHaveCount(1);
    await expect(chosen.filter({ hasText: "Safety order" })).toHaveCount(1);
    await page.getByRole("link", { name: "Take the chosen over as decisions" }).click();
    await expect(page.getByLabel("NEW-01 Lock keeper's <house>")).toBeChecked();
    const ticked = await page.locator("tbody input:checked").evaluateAll((all) => all.map((x) => x.value));
    for (const code of ticked.filter((x) => x !== "NEW-01")) await page.locator(`tbody input[value="${code}"]`).uncheck();
    await page.getByLabel("By", { exact: true }).fill("Board");
    await page.getByLabel("Because").fill("It is cheap, and the rain is not.");
    await page.getByLabel("what is accepted is an open project at once").check();
    await page.getByLabel("Its plan as in").fill("small");
    await page.getByRole("button", { name: "Write it down" }).press("Enter");
    await expect(page.getByRole("status")).toContainText("1 proposal is accepted: NEW-01, and open from now on.");
    await page.goto("/projects/NEW-01/plan");
    await expect(page.locator("main")).toContainText("Hand it over");
    await page.goto("/projects/NEW-01");
    await expect(page.locator("h1")).toContainText("Lock keeper's <house>");

    await page.getByRole("link", { name: "Gates", exact: true }).click();
    await expect(page.locator("h1")).toContainText("is in Idea");
    await page.getByRole("button", { name: "Ask for this gate" }).press("Enter");
    await expect(page.getByRole("status")).toContainText("NEW-01 waits at the gate of Idea");
    await page.getByRole("combobox", { name: "Decision" }).selectOption("passed with conditions");
    await page.getByLabel("Because").fill("The roof cannot wait.");
    await page.getByLabel("Releases").fill("50 000");
    await page.getByRole("textbox", { name: "Conditions" }).fill("Ask the keeper; M. Okafor; 2026-12-15");
    await page.getByRole("button", { name: "Write it down" }).press("Enter");
    await expect(page.getByRole("status")).toContainText("NEW-01 is in Design now. 1 condition is an action of it.");
    await expect(page.locator("main")).toContainText("Released €50,000.00.");
    await page.getByRole("link", { name: "compare with now" }).click();
    await expect(page.locator("#was")).toContainText("it computes to the same figures");
    await page.goto("/projects/NEW-01/risks");
    await expect(page.locator("main")).toContainText("Ask the keeper");
  });

  test("a template written by hand gives a proposal its plan, its roles and its cost by activity", async ({ page }) => {
    await page.goto("/pipeline/templates");
    await page.getByRole("link", { name: "Write a template" }).click();
    await page.getByLabel("Name", { exact: true }).fill("Footbridge");
    const step = async (n, code, name, more) => {
      await page.getByLabel(`Code of step ${n}`, { exact: true }).fill(code);
      await page.getByLabel(`Name of step ${n}`, { exact: true }).fill(name);
      for (const [label, value] of Object.entries(more)) await page.getByLabel(label, { exact: true }).fill(value);
    };
    await step(0, "F1", "Set the piers", {
      "Working days of step 0": "40",
      "Role of step 0": "diver",
      "Percent of step 0": "50",
      "Cost code of step 0": "21",
      "Share of step 0": "60",
    });
    await step(1, "F2", "Lift the deck", {
      "Working days of step 1": "10",
      "Step 1 waits for": "F1",
      "Cost code of step 1": "21",
      "Share of step 1": "30",
    });
    await page.getByRole("button", { name: "Save" }).click();
    // Nothing is kept that does not add up, and nothing that was typed is lost.
    await expect(page.getByRole("alert")).toContainText("100 % in all, or none");
    await expect(page.getByLabel("Name of step 1", { exact: true })).toHaveValue("Lift the deck");
    await page.getByLabel("Share of step 1", { exact: true }).fill("40");
    await page.getByRole("button", { name: "Save" }).click();
    await expect(page.locator("h1")).toHaveText("Footbridge: 2 activities and milestones over 50 working days");
    await expect(page.locator("main tbody tr").nth(1)).toContainText("41");
    await expect(page.locator("figure svg")).toContainText("Lift the deck");

    await page.goto("/pipeline/proposals");
    await page.getByLabel(/BR-P2/).check();
    await page.locator("[name=ruling]").selectOption("accepted");
    await page.locator("[name=by]").fill("Board");
    await page.locator("[name=reason]").fill("It is cheap and it is wanted.");
    await page.locator("[name=opens]").check();
    await page.locator("[name=template]").fill("Footbridge");
    await page.locator("[name=layout]").check();
    await page.getByRole("button", { name: "Write it down" }).click();
    await page.goto("/projects/BR-P2/money/activities");
    await expect(page.locator("main")).toContainText("Set the piers");
    await expect(page.locator("main")).toContainText("Lift the deck");

    // An earlier version stands again on request.
    await page.goto("/pipeline/templates?name=Footbridge&edit=1");
    await page.getByLabel("Working days of step 0", { exact: true }).fill("60");
    await page.getByLabel("First day of step 1", { exact: true }).fill("");
    await page.getByLabel("Why it changes").fill("The river is deeper");
    await page.getByRole("button", { name: "Save" }).click();
    await expect(page.locator("h1")).toContainText("over 70 working days");
    await expect(page.locator("main")).toContainText("The river is deeper");
    await page.getByRole("button", { name: "Have version 1 again" }).click();
    await expect(page.locator("h1")).toContainText("over 50 working days");
  });
});

test("nine proposals: the best four alone would want more divers than there are, and the ranking is not the best choice", async ({
  page,
}) => {
  await page.goto("/pipeline/selection?limit.2027=2500000&limit.fte:underwater+inspector:2027Q3=1");
  await expect(page.locator("h1")).toContainText("are best chosen");
  await expect(page.locator("tr.taken").filter({ hasText: "Gates of the Marn staircase" })).toHaveCount(0);
  await page.goto("/pipeline/selection?limit.2027=600000");
  await expect(page.locator("h1")).toHaveText("Nothing keeps to the musts and the limits.");
  await expect(page.getByText("it would have to be 700000.00 at least")).toBeVisible();
});

test("proposals fit a phone, and are read only in a closed period", async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 800 });
  for (const path of [
    "/pipeline/proposals",
    "/pipeline/ranking",
    "/pipeline/goals",
    "/pipeline/selection",
    "/pipeline/plane",
    "/pipeline/roadmap",
    "/pipeline/new",
  ]) {
    await page.goto(path);
    expect(await page.evaluate(() => document.documentElement.scrollWidth), path).toBeLessThanOrEqual(390);
  }
  await page.goto("/pipeline/proposals?asof=2026-09-30");
  await expect(page.getByRole("button", { name: "Write it down" })).toHaveCount(0);
});

test("of two conditions of a gate one is open, and what the project was at the gate stands beside what it is", async ({ page }) => {
  await page.goto("/pipeline/gates");
  await page.getByRole("link", { name: "1 went past one without a decision" }).click();
  await expect(page.locator("tbody tr")).toHaveCount(1);
  await expect(page.locator("tbody tr")).toContainText("Wayfinding boards");
  await page.goto("/projects/LW-09/gates");
  await page.getByRole("link", { name: "compare with now" }).click();
  const cost = page.locator("#was tr").filter({ has: page.getByRole("rowheader", { name: "Actual cost", exact: true }) });
  await expect(cost).toContainText("€1,504,608.53");
  await page.goto("/registers/actions?scope=LW-09");
  await expect(page.locator("main")).toContainText("Settle the last invoices of the cable works");
});

// By hand: a quarter of 2027 is as wide as three months, so a bar that is carried by one begins three months later.
test("a proposal is carried along the roadmap, and what it does to years is told", async ({ page }) => {
  await page.goto("/pipeline/roadmap?asof=2026-11-30");
  const bar = page.locator('a.light[href*="BR-P2"] rect');
  const box = await bar.boundingBox();
  const quarter = async (n) =>
    (
      await page
        .locator(".roadmap svg text", { hasText: `Q${n}` })
        .nth(2)
        .boundingBox()
    ).x;
  const by = Math.abs((await quarter(3)) - (await quarter(2)));
  await page.mouse.move(box.x + 40, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + 40 + by, box.y + box.height / 2, { steps: 5 });
  await page.mouse.up();
  await expect(page.locator("h1")).toContainText("1 proposal is moved here, and nowhere else");
  await expect(page.getByLabel(/Months that BR-P2/)).toHaveValue("3");
  expect(page.url()).toContain("asof=2026-11-30");
  const svg = await page.request.get("/pipeline/roadmap?as=svg");
  expect(svg.headers()["content-type"]).toContain("image/svg+xml");
});
