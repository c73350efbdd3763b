import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { faint } from "./contrast.mjs";
import { expect, test } from "./turret.mjs";

const axe = readFileSync(createRequire(import.meta.url).resolve("axe-core/axe.min.js"), "utf8");
const everything = { type: "tag", values: ["wcag2a", "wcag2aa", "wcag21aa", "wcag22aa"] };

// violations are what is wrong with a page. Of many rows and choices that are alike the first are looked at; the others are taken out, since
// what is only passed over is walked through all the same. Contrast is measured by faint.
async function violations(page) {
  if (!(await page.evaluate(() => "axe" in window))) await page.evaluate(axe);
  return await page.evaluate(async (only) => {
    const alike = "tbody tr:nth-child(n+7), li:nth-child(n+9), option:nth-child(n+5)";
    for (const element of document.querySelectorAll(alike)) element.remove();
    const rules = { "color-contrast": { enabled: false } };
    const found = await window.axe.run(document, { resultTypes: ["violations"], runOnly: only, rules });
    const targets = (v) => v.nodes.slice(0, 3).map((n) => n.target);
    return found.violations.map((v) => `${v.id}: ${targets(v).join(" | ")}`);
  }, everything);
}

// expectNoViolation looks at a page as it stands, in both themes.
async function expectNoViolation(page, path) {
  for (const theme of ["light", "dark"]) {
    await page.evaluate((to) => (document.documentElement.dataset.bsTheme = to), theme); // the menu that does it has a test below
    expect(await page.evaluate(faint), `${path} in the ${theme} theme`).toEqual([]);
  }
  expect(await violations(page), path).toEqual([]);
}

test.describe.configure({ mode: "parallel" }); // nothing here changes what another one reads
test.use({ contextOptions: { reducedMotion: "reduce" } }); // a colour that is on its way to the other theme is that of neither

const places = {
  "Lookout and projects": [
    "/",
    "/?trace=vac",
    "/projects/LW-07",
    "/projects/LW-07/assess",
    "/projects/LW-07/risks",
    "/projects/LW-07?trace=ac",
    "/projects",
    "/nowhere",
    "/lookout/arrange",
  ],
  Gather: ["/gather", "/gather/load", "/gather/samples?project=LW-07", "/loads", "/loads/1", "/feeds", "/gather/outbox"],
  "tables to edit": ["/edit/activities?project=LW-07", "/edit/calendars", "/edit/status?project=LW-07", "/edit/risks?project=LW-07"],
  Setup: ["/setup", "/setup/settings", "/setup/audit?verify=1", "/me"],
  Timeline: [
    "/timeline",
    "/timeline/milestones",
    "/timeline/milestones?view=lines",
    "/timeline/milestones?view=deliverables",
    "/timeline/slips",
    "/timeline/dependencies",
    "/timeline/calendar",
    "/timeline/rehearsal",
    "/timeline/rehearsal?move=project%3DLW-11%26activity%3DM3%26shift%3D20",
  ],
  registers: [
    "/registers/risks?record=LW-07:R1",
    "/registers/risks?grid=after&cell=3x3",
    "/registers/issues?record=FW-01:I0",
    "/registers/actions",
    "/registers/actions?view=list&record=LW-07:T1&edit=1",
    "/registers/meetings",
    "/registers/meetings/OWB/M1",
    "/registers/decisions",
    "/registers/lessons?q=steel",
    "/desk",
    "/desk/owners",
  ],
  work: [
    "/projects/DT-02/backlog",
    "/projects/DT-02/backlog?view=board&burn=down",
    "/registers/backlogs",
    "/projects/BV-05/benefits",
    "/money/benefits",
  ],
  pipeline: [
    "/pipeline/proposals",
    "/projects/LW-P1/proposal",
    "/pipeline/ranking",
    "/pipeline/goals",
    "/pipeline/selection?limit.2027=2500000&limit.fte:underwater+inspector:2027Q3=1",
    "/pipeline/plane?ylimit=55",
    "/pipeline/roadmap?move.LW-P1=6",
    "/pipeline/gates",
    "/projects/LW-09/gates?was=1",
    "/projects/LW-P6/gates",
    "/pipeline/new",
    "/pipeline/form",
    "/pipeline/templates",
    "/pipeline/templates?name=full",
    "/pipeline/templates?name=small&edit=1",
  ],
  people: ["/people/load", "/people/load?by=team&unit=month", "/people/roles?cell=underwater%20inspector%7C2027-02"],
  "people and hours": [
    "/people/utilisation?by=role",
    "/people/work?scope=LW-07",
    "/people/plan/LW-07",
    "/people/of/S004",
    "/people/load?unit=day",
    "/people/level?role=underwater+inspector",
    "/people/asked",
    "/people/help",
    "/hours?person=S015&week=2026-11-02",
    "/hours/approve",
    "/hours/weeks",
  ],
  "a plan": ["/projects/LW-11/plan", "/projects/LW-11/versions"],
  "records to be read": [
    "/places",
    "/places?at=/money",
    "/projects/LW-07/risks?record=risks:R1",
    "/projects/DT-02/backlog",
    "/projects/LW-07/records",
    "/projects/LW-07/records/activities",
  ],
  Money: [
    "/money",
    "/money?scope=BR-03&trace=month&month=2026-09",
    "/money/projects",
    "/money/projects?group=programme",
    "/money/burn",
    "/money/year",
    "/money/funding",
    "/money/changes",
    "/money/revenue",
  ],
  "a project's money": [
    "/projects/BR-03/money",
    "/projects/LW-07/money?rows=all",
    "/projects/BR-03/money/versions",
    "/projects/LW-07/money/activities",
    "/projects/LW-07/closing",
  ],
  outlook: ["/projects/BR-07/outlook", "/assess/outlook", "/assess/outlook/skill"],
  Check: ["/check", "/check?show=accepted", "/check/score", "/check/rules", "/check/rules?id=x#own"],
  Assess: [
    "/assess",
    "/assess/opinion",
    "/assess/earned?scope=LW-07",
    "/assess/trends",
    "/assess/trends?measure=cpi",
    "/assess/accuracy",
    "/assess/tolerances",
    "/assess/table",
    "/assess/table?where=cpy",
    "/assess/glossary",
    "/projects/FW-06/assess",
  ],
  "Explain and Publish": ["/explain", "/projects/LW-07/explain", "/publish", "/publish?asof=2026-09-30", "/publish/compare"],
  Reports: ["/reports", "/reports/compose?report=executive", "/reports/compose?report=cost", "/reports/sending"],
};

// switchTheme turns to the other theme by the menu under the person's name, and leaves it closed.
async function switchTheme(page) {
  const menu = page.locator(".masthead details");
  await menu.locator("summary").click();
  await menu.getByRole("button", { name: "Light or dark" }).click();
  await menu.locator("summary").click();
}

// openNarrow opens a page as on a phone, where it must not be wider than the screen.
async function openNarrow(page, path) {
  await page.setViewportSize({ width: 390, height: 800 });
  await page.goto(path);
  if (path === "/projects/BR-03/money") await page.locator("[data-money-grid] tfoot td").first().waitFor(); // a script builds it
  expect(await page.evaluate(() => document.documentElement.scrollWidth), path).toBeLessThanOrEqual(390);
}

for (const [place, paths] of Object.entries(places)) {
  test(`no violation of WCAG 2.2 AA in either theme, and none too wide for a phone: ${place}`, async ({ page }) => {
    for (const path of paths) {
      await openNarrow(page, path);
      await expect(page.locator("html")).toHaveAttribute("data-bs-theme", "light");
      await page.setViewportSize({ width: 1280, height: 800 });
      await expectNoViolation(page, path);
    }
  });
}

// The ratios are those of WCAG's formula, worked out by hand: #777 on white is 4.48 to 1, #767676 4.54, #949494 3.03, #959595 2.99,
// half of black 3.95; #707070 on black is 4.24 to 1.
test("faint texts are found by their ratio, their size and what they stand on", async ({ page }) => {
  await page.setContent(`<body style="background: #fff; font-size: 16px">
    <p id="a" style="color: #777">a</p><p style="color: #767676">b</p><p style="color: #949494; font-size: 24px">c</p>
    <p id="d" style="color: #959595; font-size: 24px">d</p><p style="color: #949494; font-size: 19px; font-weight: 700">e</p>
    <div style="background: #000"><p id="f" style="color: #707070">f</p><p id="g" style="background: rgb(255 255 255 / 50%)">g</p></div>
    <p id="h" style="opacity: 0.5">h</p><button disabled style="color: #ccc">i</button><p hidden style="color: #ccc">j</p></body>`);
  const found = await page.evaluate(faint);
  expect(found.map((f) => /"(.)"/.exec(f)?.[1])).toEqual(["a", "d", "f", "h"]);
  expect(found[0]).toContain("4.48 to 1");
});

test("a report read on the screen stands alone and has no violation either", async ({ page }) => {
  for (const report of ["executive", "milestone", "cost", "quality"]) {
    await openNarrow(page, `/reports/read?report=${report}`);
    await expect(page.locator("h1")).toBeVisible();
    await page.setViewportSize({ width: 1280, height: 800 });
    await expectNoViolation(page, report);
  }
});

test("both themes are set in the same type", async ({ page }) => {
  for (const colorScheme of ["light", "dark"]) {
    await page.emulateMedia({ colorScheme });
    await page.goto("/");
    expect(await page.evaluate(() => getComputedStyle(document.body).fontFamily), colorScheme).toContain("Plex Sans");
  }
});

test("the theme is the system's until it is switched, and then stays", async ({ page }) => {
  await page.emulateMedia({ colorScheme: "dark" });
  await page.goto("/");
  await expect(page.locator("html")).toHaveAttribute("data-bs-theme", "dark");
  await page.emulateMedia({ colorScheme: "light" });
  await page.goto("/");
  await switchTheme(page);
  await expect(page.locator("html")).toHaveAttribute("data-bs-theme", "dark");
  await page.reload();
  await expect(page.locator("html")).toHaveAttribute("data-bs-theme", "dark");
});

test.describe("nobody signed in", () => {
  test.use({ as: "" });
  test("is led to the sign-in page and back to where they wanted to go", async ({ page }) => {
    await page.goto("/projects/LW-07?trace=bac");
    await expect(page.locator("h1")).toHaveText("Sign in");
    await expectNoViolation(page, "the sign-in page");
    await page.getByRole("button", { name: /R. Osei/ }).click();
    await expect(page).toHaveURL(/\/projects\/LW-07\?trace=bac/);
    await page.locator(".masthead details > summary").click();
    await page.getByRole("button", { name: "Change person" }).click();
    await expect(page.locator("h1")).toHaveText("Sign in");
    await page.goBack();
    await page.reload();
    await expect(page.locator("h1")).toHaveText("Sign in");
  });
});

test.describe("a lead", () => {
  test.use({ as: "okafor" });
  test("sees the own projects and no others, also by addresses typed by hand", async ({ page }) => {
    await page.goto("/projects");
    await expect(page.locator("main tbody tr").first()).toBeVisible();
    for (const lead of await page.locator("main tbody tr[data-project] td:nth-child(4)").allTextContents()) expect(lead).toBe("M. Okafor");
    for (const path of [
      "/projects/BR-03",
      "/projects/BR-03?trace=bac",
      "/edit/status?project=BR-03",
      "/gather/samples/forecast.xlsx?project=BR-03",
    ]) {
      const answer = await page.request.get(path);
      expect([403, 404], path).toContain(answer.status());
    }
  });
});

test.describe("an executive from whom costs are kept", () => {
  test.use({ as: "almeida" });
  test("sees statuses and dates, and no amount anywhere", async ({ page }) => {
    await page.goto("/");
    await expect(page.getByRole("link", { name: "Money" })).toHaveCount(0);
    expect((await page.request.get("/money")).status()).toBe(403);
    expect((await page.request.get("/projects/LW-07/money")).status()).toBe(403);
    for (const path of [
      "/",
      "/projects",
      "/projects/LW-07",
      "/projects/LW-07?trace=vac",
      "/projects/LW-07?trace=overall_health",
      "/?trace=bac",
    ]) {
      await page.goto(path);
      await expect(page.locator("main")).not.toContainText("€");
      await expect(page.locator("#margin")).not.toContainText("€");
    }
    await page.goto("/projects/LW-07");
    await expect(page.locator("h1")).toContainText("38 working days late");
    expect((await page.request.get("/gather")).status()).toBe(403);
  });
});
