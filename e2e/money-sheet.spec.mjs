import { expect, test as base } from "@playwright/test";
import { MoneyMoves } from "../internal/web/assets/js/money-moves.js";

// The sheet of money by itself, without a page: two lines of steel, in euros and in kronor at 0.0871, and one of labour, over the four
// months from September 2026, of which the first has ended.
const test = base.extend({});

const codes = [
  { code: "1", name: "Steel", path: ["1"], class: "capital" },
  { code: "11", name: "Beams", path: ["1", "11"], class: "capital" },
  { code: "2", name: "Labour", path: ["2"], class: "" },
];

function line(code, currency, own, more = {}) {
  const rate = currency === "SEK" ? 0.0871 : 1;
  return {
    kind: "forecast",
    code,
    activity: "",
    centre: "",
    currency,
    change: "",
    supplier: "",
    note: "",
    edit: true,
    own,
    amounts: own.map((v) => Math.round(v * rate)),
    ...more,
  };
}

function sheet() {
  const s = new MoneyMoves({
    first: "2026-09",
    months: 4,
    locked: 1,
    currency: "EUR",
    decimals: { EUR: 2, SEK: 2, JPY: 0 },
    rates: { SEK: Array.from({ length: 4 }, () => ["871", "10000"]) },
    most: 1_000_000_00,
    show: "forecast",
    kind: "forecast",
    may: true,
    codes,
    work: [{ code: "A1", name: "Dig", phase: "" }],
    rows: [
      line("11", "EUR", [100_00, 200_00, 300_00, 0], { actual: [90_00, 0, 0, 0], actualIn: [90_00, 0, 0, 0] }),
      line("2", "EUR", [0, 50_00, 0, 0]),
      line("11", "SEK", [0, 1_000_00, 0, 0]),
    ],
  });
  s.plan();
  return s;
}

const seen = (s) => s.shown.map((x) => (x.group ? x.group.name : `${x.row.code} ${x.row.currency}`));
const here = (s, row, col) => {
  s.at = { row, col };
  s.anchor = null;
};

test("lines stand under their groups, whose sums are of what was spent and what is to come", () => {
  const s = sheet();
  expect(seen(s)).toEqual(["1 Steel", "11 EUR", "11 SEK", "2 Labour", "2 EUR"]);
  const steel = s.shown[0].group.rows;
  expect(s.sum(steel, 0, 1), "September is what was spent").toBe(90_00);
  expect(s.sum(steel, 1, 2), "200.00 and 1,000.00 SEK, 87.10").toBe(287_10);
  expect(s.sum(s.rows, 0, 4)).toBe(90_00 + 200_00 + 300_00 + 50_00 + 87_10);
  s.closed.add(s.shown[0].group.path);
  s.plan();
  expect(seen(s)).toEqual(["1 Steel", "2 Labour", "2 EUR"]);
  s.closed.clear();
  s.groups = ["currency", "class"];
  s.plan();
  expect(seen(s)).toEqual(["EUR", "capital", "11 EUR", "neither", "2 EUR", "SEK", "capital", "11 SEK"]);
  s.groups = [];
  s.plan();
  expect(seen(s)).toEqual(["11 EUR", "2 EUR", "11 SEK"]);
});

test("columns are months, quarters or years, and what they cannot be changed by says so", () => {
  const s = sheet();
  expect(s.cols.map((c) => c.name)).toEqual(["Sep 26", "Oct 26", "Nov 26", "Dec 26"]);
  s.step = "quarter";
  s.columns();
  expect(s.cols.map((c) => [c.name, c.from, c.to])).toEqual([
    ["2026 Q3", 0, 1],
    ["2026 Q4", 1, 4],
  ]);
  here(s, 1, 1);
  s.paste("5");
  expect(s.told).toContain("by the month");
  expect(s.was.size).toBe(0);
});

test("a change is a step that is taken back and made again, and a cell that is as it was is not changed", () => {
  const s = sheet();
  const sek = s.rows[2];
  expect(s.set([[sek, 2, 2_000_00]])).toBe(true);
  expect(sek.amounts[2], "at the plan rate").toBe(174_20);
  expect([...s.was]).toEqual([["2:2", 0]]);
  s.undo();
  expect([sek.own[2], sek.amounts[2], s.was.size]).toEqual([0, 0, 0]);
  s.redo();
  expect(sek.own[2]).toBe(2_000_00);
  s.set([[sek, 2, 0]]);
  expect(s.was.size).toBe(0);
  s.undo();
  s.undo();
  s.undo();
  expect(sek.own).toEqual([0, 1_000_00, 0, 0]);
  s.set([[s.rows[1], 1, 1]]);
  s.redo();
  expect(sek.own[2], "what was taken back is gone once something else is done").toBe(0);
});

test("months that have ended and amounts beyond the largest are left as they are", () => {
  const s = sheet();
  expect(s.set([[s.rows[0], 0, 5]])).toBe(false);
  expect([s.told, s.bad]).toEqual(["These months have ended or cannot be changed; nothing was changed.", true]);
  s.set([
    [s.rows[0], 1, 7_00],
    [s.rows[0], 2, -1_000_000_01],
  ]);
  expect(s.told).toContain("beyond the largest amount, 1,000,000.00");
  expect(s.rows[0].own).toEqual([100_00, 200_00, 300_00, 0]);
  s.set([
    [s.rows[0], 0, 5],
    [s.rows[0], 1, -1_000_000_00],
  ]);
  expect(s.told).toBe("1 of the cells cannot be changed and were left as they are.");
  expect(s.rows[0].own[1]).toBe(-1_000_000_00);
});

test("a block is pasted whole, over the lines that are seen, or not at all", () => {
  const s = sheet();
  here(s, 1, 2);
  s.paste("1,5\t2.00\n3\t(4)\n");
  expect([s.rows[0].own, s.rows[2].own]).toEqual([
    [100_00, 200_00, 1_50, 2_00],
    [0, 1_000_00, 3_00, -4_00],
  ]);
  expect(s.told).toBe("Pasted 2 by 2.");
  s.undo();
  for (const [row, col, text, says] of [
    [1, 3, "1\t2", "The block has 2 months and there are 1 from here; nothing was pasted."],
    [4, 1, "1\n2", "The block has 2 lines and there are 1 from here; nothing was pasted."],
    [1, 1, "1\t2\n3\tx", "Line 2 of the block, Nov 26: “x” is no amount; nothing was pasted."],
    [1, 1, "1.005", "Line 1 of the block, Oct 26: “1.005” is no amount; nothing was pasted."],
  ]) {
    here(s, row, col);
    s.paste(text);
    expect(s.told).toContain(says);
    expect(s.bad).toBe(true);
    expect(s.was.size).toBe(0);
  }
  here(s, 4, 3);
  s.anchor = { row: 0, col: 2 };
  s.paste("9");
  expect(
    s.rows.map((r) => r.own.slice(2)),
    "one amount fills what is selected",
  ).toEqual([
    [9_00, 9_00],
    [9_00, 9_00],
    [9_00, 9_00],
  ]);
});

test("what is copied is what is seen, groups by their sums", () => {
  const s = sheet();
  here(s, 2, 1);
  s.anchor = { row: 0, col: 0 };
  expect(s.copy()).toBe("90.00\t287.10\n90.00\t200.00\n\t1000.00");
});

test("amounts move along the months onto what stands there, and not out of them", () => {
  const s = sheet();
  here(s, 1, 2);
  s.anchor = { row: 1, col: 1 };
  s.shift(1);
  expect(s.rows[0].own, "200.00 onto where 300.00 stood, and 300.00 a month on").toEqual([100_00, 0, 200_00, 300_00]);
  expect([s.anchor.col, s.at.col]).toEqual([2, 3]);
  s.shift(1);
  expect(s.told).toBe("There is no open month to move to; nothing was moved.");
  s.undo();
  s.anchor = { row: 1, col: 1 };
  s.at = { row: 1, col: 1 };
  s.shift(-1);
  expect(s.told, "into a month that has ended").toBe("There is no open month to move to; nothing was moved.");
  s.shift(1);
  expect(s.rows[0].own).toEqual([100_00, 0, 500_00, 0]);
  expect(s.told).toBe("Moved 200.00 EUR by 1 month; Ctrl+Z takes it back.");
});

test("amounts are filled to the right and downwards, and copied a year on", () => {
  const s = sheet();
  here(s, 4, 1);
  s.fill(true);
  expect(s.rows[1].own).toEqual([0, 50_00, 50_00, 50_00]);
  here(s, 2, 2);
  s.anchor = { row: 1, col: 2 };
  s.fill(false);
  expect(s.rows[2].own[2], "in its own currency").toBe(300_00);
  const t = sheet();
  here(t, 1, 1);
  t.later();
  expect(t.months).toBe(15);
  expect(t.rows[0].own.slice(12), "October and November of the next year").toEqual([0, 200_00, 300_00]);
  expect(t.rows.map((r) => r.own.length)).toEqual([15, 15, 15]);
  t.rows[0].own[14] = 0;
  expect(t.widen(600)).toBe(false);
  expect(t.told).toBe("No more than fifty years fit.");
});
