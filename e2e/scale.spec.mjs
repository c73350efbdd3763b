import { parseDay, showDay } from "../internal/web/assets/js/days.js";
import { expect, test as base } from "@playwright/test";
import { Scale, fromISO, human, toISO } from "../internal/web/assets/js/scale.js";

const test = base.extend({});

test("days are counted as the server counts them", () => {
  expect(fromISO("0001-01-01")).toBe(1);
  expect(fromISO("1970-01-01")).toBe(719163);
  expect(fromISO("9999-12-31")).toBe(3652059);
  for (const day of ["1900-02-28", "2000-02-29", "2026-10-31", "9999-12-31"]) expect(toISO(fromISO(day))).toBe(day);
  expect(human(fromISO("2026-10-31"))).toBe("31 Oct 2026");
  expect(human(0)).toBe("–");
});

test("zooming keeps the day under the pointer and stays between a week and five years", () => {
  const scale = new Scale(900);
  scale.fit(fromISO("2026-01-01"), fromISO("2027-01-01"));
  for (const [factor, x] of [
    [1.7, 0],
    [0.4, 450],
    [3, 899],
    [0.9, 123],
  ]) {
    const day = scale.day(x);
    scale.zoom(factor, x);
    expect(scale.day(x)).toBeCloseTo(day, 6);
  }
  for (let i = 0; i < 50; i++) scale.zoom(2, 450);
  expect(scale.right - scale.left).toBeCloseTo(7, 6);
  for (let i = 0; i < 50; i++) scale.zoom(0.5, 450);
  expect(scale.right - scale.left).toBeCloseTo(1830, 6);
});

test("a span fits with both its ends in sight", () => {
  const scale = new Scale(1000);
  for (const [from, to] of [
    ["2026-03-01", "2026-03-02"],
    ["2026-01-01", "2026-12-31"],
    ["2024-01-01", "2028-12-01"],
  ]) {
    scale.fit(fromISO(from), fromISO(to));
    expect(scale.x(fromISO(from))).toBeGreaterThanOrEqual(-1e-6);
    expect(scale.x(fromISO(to))).toBeLessThanOrEqual(1000 + 1e-6);
  }
});

test("the months and weeks of the head follow on one another without a gap", () => {
  const scale = new Scale(1000);
  for (const days of [7, 14, 40, 100, 200, 400, 900, 1800]) {
    scale.fit(fromISO("2026-08-13"), fromISO("2026-08-13") + days);
    const { upper, lower } = scale.ticks();
    for (let i = 1; i < lower.length; i++) expect(lower[i].at, `${days} days`).toBe(lower[i - 1].next);
    expect(lower[0].at).toBeLessThanOrEqual(scale.left);
    expect(lower.at(-1).next).toBeGreaterThanOrEqual(scale.right);
    expect(upper.length, `${days} days`).toBeGreaterThan(0);
    expect(lower.length, `${days} days`).toBeLessThan(90);
    expect(
      upper.some((t) => t.label.includes("2026")),
      `${days} days`,
    ).toBe(true);
  }
  scale.fit(fromISO("2026-11-02"), fromISO("2026-11-09"));
  expect(
    scale
      .ticks()
      .lower.filter((t) => t.at >= fromISO("2026-11-02") && t.at < fromISO("2026-11-09"))
      .map((t) => t.label),
  ).toEqual(["Mon 2", "Tue 3", "Wed 4", "Thu 5", "Fri 6", "Sat 7", "Sun 8"]);
});

test("a day is read as people type it, and what is none is not guessed", () => {
  const today = "2026-11-27";
  for (const [typed, day] of [
    ["31 Oct 2026", "2026-10-31"],
    ["31. october 26", "2026-10-31"],
    ["1 sept", "2026-09-01"],
    ["2026-2-3", "2026-02-03"],
    ["3.2.2026", "2026-02-03"],
    ["03/02/26", "2026-02-03"],
    ["5 12", "2026-12-05"],
    ["29 Feb 2028", "2028-02-29"],
    ["", ""],
    ["29 Feb 2026", null],
    ["31.11.2026", null],
    ["12/31/2026", null],
    ["soon", null],
    ["1 Foo 2026", null],
    ["1 Jan 1812", null],
  ])
    expect(parseDay(typed, today), typed).toBe(day);
  expect([showDay("2026-09-01"), showDay("")]).toEqual(["1 Sep 2026", ""]);
});
