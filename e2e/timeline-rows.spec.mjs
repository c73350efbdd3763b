import { expect, test as base } from "@playwright/test";
import { moveOf } from "../internal/web/assets/js/plan-drag.js";
import { TimelineRows } from "../internal/web/assets/js/timeline-rows.js";

// The rows of a timeline by themselves, without a page.
const test = base.extend({});

const work = (code, parent = "", more = {}) => ({ code, name: code, parent, kind: "work", bar: [0, 0, 0, 0, 0], ...more });

function rows(data, options) {
  const t = new TimelineRows(options);
  t.hold({ week: [true, true, true, true, true, false, false], off: [], on: [], asOf: 100, ...data });
  return t;
}
const seen = (t) => t.rows.map((r) => `${"  ".repeat(r.depth)}${r.code ?? r.name}`);

test("activities stand under what they are part of; one without, and one that is part of itself, at the top", () => {
  const t = rows({
    code: "P",
    rows: { activities: [work("1.1", "1"), work("1"), work("1.1.1", "1.1"), work("lost", "gone"), work("own", "own")] },
  });
  expect(seen(t)).toEqual(["1", "  1.1", "    1.1.1", "lost", "own"]);
  expect(
    t.rows.map((r) => r.fold),
    "what has parts can be folded",
  ).toEqual([true, true, undefined, undefined, undefined]);
  t.turn(t.rows[0]);
  t.flatten();
  expect(seen(t)).toEqual(["1", "lost", "own"]);
  t.turn(t.rows[0]);
  t.flatten();
  expect(t.rows.length).toBe(5);
});

test("parts that go round in a circle end the drawing of nothing", () => {
  const t = rows({ code: "P", rows: { activities: [work("a", "b"), work("b", "a"), work("c")] } });
  expect(seen(t)).toEqual(["c"]);
});

test("a project is unfolded once its activities are there, and only those of a party in its group", () => {
  const project = { code: "P", name: "Quay", count: 2, bar: [0, 0, 0, 0, 0] };
  const t = rows({
    projects: [project, { ...project, code: "Q", count: 0 }],
    groups: [{ name: "Dredgers", projects: [0, 1], party: "Dredgers" }],
  });
  expect(seen(t)).toEqual(["Dredgers", "P", "Q"]);
  expect(t.rows[2].fold, "nothing to unfold").toBe(undefined);
  expect(t.turn(t.rows[1]), "they are to be fetched").toBe(true);
  t.flatten();
  expect(t.rows.map((r) => r.name)).toEqual(["Dredgers", "Quay", "fetching…", "Quay"]);
  t.loaded.set("P", { activities: [work("1", "", { party: "Dredgers" }), work("2", "", { party: "Smiths" })], ties: [] });
  t.flatten();
  expect(seen(t)).toEqual(["Dredgers", "P", "  1", "Q"]);
  expect(t.turn(t.rows[1])).toBe(false);
  expect(t.turn(t.rows[1]), "they are there already").toBe(false);
});

test("a tie ends at the project where its activity is not shown", () => {
  const project = { code: "P", name: "Quay", count: 2, bar: [0, 0, 0, 0, 0] };
  const tie = { giver: "P", from: "2", taker: "Q", to: "9" };
  const t = rows({ projects: [project, { ...project, code: "Q" }], groups: [{ name: "", projects: [0, 1] }], ties: [tie] });
  expect(t.ends).toEqual([[0, 1]]);
  t.loaded.set("P", { activities: [work("1"), work("2")] });
  t.open.add("P");
  t.flatten();
  expect(t.ends).toEqual([[2, 3]]);
});

test("the row at a height is found at every edge", () => {
  const t = rows({ code: "P", rows: { activities: [work("1"), work("2", "", { kind: "milestone" }), work("3")] } });
  t.rows.forEach((r, i) => {
    expect(t.indexAt(r.y), "its first line").toBe(i);
    expect(t.indexAt(r.y + r.h - 1), "its last").toBe(i);
  });
  expect(t.indexAt(t.total), "below the last there is none").toBe(3);
  expect(rows({ code: "P", rows: { activities: [] } }).indexAt(5)).toBe(0);
});

test("days are worked by the week, but for holidays and days made up for", () => {
  const t = rows({ code: "P", rows: { activities: [] }, off: [1], on: [6] });
  expect([1, 2, 5, 6, 7, 8].map((d) => t.worked(d))).toEqual([false, true, true, true, false, true]);
});

test("what is said of a row: dates, how far from its baseline, float, odds", () => {
  const t = rows({ code: "P", rows: { activities: [] } });
  const day = 739920; // Saturday 31 October 2026
  const say = (bar, more) => t.lines({ type: "activity", code: "M1", name: "Opened", bar, ...more }).slice(1);
  expect(say([0, day, 0, day - 1, 0], { days: 1 })).toEqual(["31 Oct 2026", "baseline 30 Oct 2026, 1 working day later"]);
  expect(say([day - 1, day, 0, day, 0], { days: 0 })).toEqual(["30 Oct 2026 to 31 Oct 2026", "baseline 31 Oct 2026, on it"]);
  expect(say([0, day, 0, day + 9, 0], { days: -7, float: 0, critical: true })).toEqual([
    "31 Oct 2026",
    "baseline 9 Nov 2026, 7 working days earlier",
    "float 0 working days, critical",
  ]);
  expect(say([0, day, 0, 0, 0], { middle: day, late: day + 2, why: "because" })).toEqual([
    "31 Oct 2026",
    "even odds by 31 Oct 2026, four in five by 2 Nov 2026",
    "because",
  ]);
});

test("a drag stands for a change of the plan", () => {
  const day = 739920; // Saturday 31 October 2026
  const bar = { code: "A", kind: "work", bar: [day - 9, day, 0, 0, 0.5] };
  const milestone = { code: "M", kind: "milestone", bar: [0, day, 0, 0, 0] };
  expect(moveOf(bar, "shift", 2)).toEqual({ op: "shift", code: "A", value: "2026-10-24" });
  expect(moveOf(bar, "begin", -1)).toEqual({ op: "begin", code: "A", value: "2026-10-21" });
  expect(moveOf(bar, "finish", 1)).toEqual({ op: "finish", code: "A", value: "2026-11-01" });
  expect(moveOf(milestone, "shift", -1)).toEqual({ op: "finish", code: "M", value: "2026-10-30" });
  expect(moveOf(bar, "progress", 2), "half of ten days, and two").toEqual({ op: "set", code: "A", field: "percent_complete", value: "70" });
  expect(moveOf(bar, "progress", 20).value).toBe("100");
  expect(moveOf(bar, "progress", -20).value).toBe("0");
});
