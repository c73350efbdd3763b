// Money as lines by months: what is shown of it, how it adds up, and what was changed, step by step. Amounts are whole minor units; totals
// in the shown currency follow at once by the plan rates that the server sent. Nothing here touches the page.
import { convert, format } from "./amount.js";

export const DIMENSIONS = [
  ["code1", "Cost code"],
  ["code", "Cost code, lowest"],
  ["class", "Capital, operating"],
  ["phase", "Phase"],
  ["activity", "Activity"],
  ["centre", "Cost centre"],
  ["supplier", "Supplier"],
  ["currency", "Currency"],
  ["kind", "Kind"],
  ["change", "Change"],
];

export class MoneySheet {
  constructor(data) {
    Object.assign(this, data);
    this.byWork = Object.fromEntries(this.work.map((w) => [w.code, w]));
    this.byCode = Object.fromEntries(this.codes.map((c) => [c.code, c]));
    this.step = "month";
    this.span = [0, this.months];
    this.groups = this.show === "all" ? ["kind", "code1"] : ["code1"];
    this.closed = new Set();
    this.done = [];
    this.undone = [];
    this.was = new Map(); // cells as they were, by "row:month"
    this.faults = new Map();
    this.at = { row: 0, col: Math.min(this.locked, this.months - 1) };
    this.anchor = null;
    this.rows.forEach((r, i) => (r.id = i));
    this.told = "";
    this.bad = false;
  }

  // tell, draw and select are what the page shows of it.
  tell(text, bad = false) {
    this.told = text;
    this.bad = bad;
  }
  draw() {}
  select() {}

  // label of a month, from the first of the sheet
  month(i) {
    const [y, m] = this.first.split("-").map(Number);
    const d = new Date(Date.UTC(y, m - 1 + i, 1));
    return {
      iso: d.toISOString().slice(0, 7),
      name: d.toLocaleDateString("en-GB", { month: "short", year: "2-digit", timeZone: "UTC" }).replace("Sept", "Sep"),
      m: d.getUTCMonth(),
      y: d.getUTCFullYear(),
    };
  }

  key(row, dim) {
    const code = this.byCode[row.code];
    switch (dim) {
      case "code1":
        return code ? code.path[0] : row.code;
      case "phase":
        return row.activity && (this.byWork[row.activity]?.phase ?? row.activity);
      case "class":
        return code?.class || "neither";
      default:
        return row[dim] || "";
    }
  }

  title(dim, value) {
    if (dim === "code1" || dim === "code") return value + " " + (this.byCode[value]?.name ?? "");
    if (value && (dim === "activity" || dim === "phase")) return `${value} ${this.byWork[value]?.name ?? "is not in the plan"}`;
    return value || `no ${Object.fromEntries(DIMENSIONS)[dim].toLowerCase()}`;
  }

  // plan lays out lines and groups in their order.
  plan() {
    const tree = { name: "", rows: [], kids: new Map(), depth: 0, path: "" };
    for (const r of this.rows) {
      let node = tree;
      for (const g of this.groups) {
        const v = this.key(r, g);
        if (!node.kids.has(v))
          node.kids.set(v, {
            name: this.title(g, v),
            rows: [],
            kids: new Map(),
            depth: node.depth + 1,
            path: `${node.path}/${v}`,
            sort: v,
          });
        node.rows.push(r);
        node = node.kids.get(v);
      }
      node.rows.push(r);
      if (node !== tree && this.groups.length === 0) tree.rows.push(r);
    }
    this.shown = [];
    const walk = (node) => {
      if (node.kids.size === 0) {
        for (const r of node.rows) this.shown.push({ row: r, depth: node.depth });
        return;
      }
      for (const kid of [...node.kids.values()].sort((a, b) => String(a.sort).localeCompare(String(b.sort), "en", { numeric: true }))) {
        this.shown.push({ group: kid, depth: kid.depth - 1 });
        if (!this.closed.has(kid.path)) walk(kid);
      }
    };
    walk(tree);
    this.columns();
  }

  // worth of a row in a month in the shown currency; what was spent where the month has ended.
  worth(r, i) {
    return r.actualIn && i < this.locked ? r.actualIn[i] : r.amounts[i];
  }

  own(r, i) {
    return r.actual && i < this.locked ? r.actual[i] : r.own[i];
  }

  open(r, i) {
    return r.edit && i >= this.locked;
  }

  sum(list, from, to) {
    let s = 0;
    for (const r of list) for (let i = from; i < to; i++) s += this.worth(r, i);
    return s;
  }

  // the selected rectangle, from the anchor to where one stands.
  range() {
    const a = this.anchor ?? this.at;
    return {
      y1: Math.min(a.row, this.at.row),
      y2: Math.max(a.row, this.at.row),
      x1: Math.min(a.col, this.at.col),
      x2: Math.max(a.col, this.at.col),
    };
  }

  // set makes changes as one step: a list of [row, month, amount].
  set(changes) {
    const step = [];
    let closed = 0;
    for (const [r, i, v] of changes) {
      if (!this.open(r, i)) {
        closed++;
        continue;
      }
      if (Math.abs(v) > this.most)
        return this.tell(
          `An amount is beyond the largest amount, ${format(this.most, this.decimals[r.currency])}; nothing was changed.`,
          true,
        );
      if (r.own[i] !== v) step.push({ r, i, from: r.own[i], to: v });
    }
    if (step.length === 0) {
      if (closed > 0)
        this.tell(this.may ? "These months have ended or cannot be changed; nothing was changed." : "This cannot be changed here.", true);
      return false;
    }
    this.apply(step, "to");
    this.done.push(step);
    this.undone = [];
    this.tell(closed > 0 ? `${closed} of the cells cannot be changed and were left as they are.` : "", closed > 0);
    this.draw();
    return true;
  }

  apply(step, which) {
    for (const s of step) {
      const id = `${s.r.id}:${s.i}`;
      if (!this.was.has(id)) this.was.set(id, s.r.own[s.i]);
      s.r.own[s.i] = s[which];
      if (this.was.get(id) === s[which]) this.was.delete(id);
      this.faults.delete(id);
      const rate = this.rates[s.r.currency]?.[s.i];
      if (s.r.currency === this.currency) s.r.amounts[s.i] = s[which];
      else if (rate?.[0]) s.r.amounts[s.i] = convert(s[which], rate[0], rate[1]);
      else {
        s.r.amounts[s.i] = 0;
        if (s[which] !== 0) s.r.problem = `no plan rate for ${s.r.currency} in ${this.month(s.i).iso}`;
      }
    }
  }

  undo() {
    const step = this.done.pop();
    if (!step) return;
    this.apply([...step].reverse(), "from");
    this.undone.push(step);
    this.draw();
  }

  redo() {
    const step = this.undone.pop();
    if (!step) return;
    this.apply(step, "to");
    this.done.push(step);
    this.draw();
  }

  // each open cell of the selection, month by month
  selected(each) {
    const { y1, y2, x1, x2 } = this.range();
    for (let y = y1; y <= y2; y++) {
      const r = this.shown[y]?.row;
      if (!r) continue;
      for (let x = x1; x <= x2; x++) for (let i = this.cols[x].from; i < this.cols[x].to; i++) each(r, i, y - y1, x - x1);
    }
  }

  // columns are the months of the span, by month, quarter or year.
  columns() {
    this.cols = [];
    for (let i = this.span[0]; i < this.span[1]; i++) {
      const m = this.month(i);
      const key = this.step === "month" ? m.iso : this.step === "quarter" ? `${m.y} Q${Math.floor(m.m / 3) + 1}` : String(m.y);
      const last = this.cols.at(-1);
      if (last?.key === key) last.to = i + 1;
      else this.cols.push({ key, from: i, to: i + 1, name: this.step === "month" ? m.name : key });
    }
    this.at.col = Math.max(0, Math.min(this.at.col, this.cols.length - 1));
    this.at.row = Math.max(0, Math.min(this.at.row, this.shown.length - 1));
  }

  // widen makes room for more months; false where no more fit.
  widen(by) {
    if (this.months + by > 600) {
      this.tell("No more than fifty years fit.", true);
      return false;
    }
    for (const r of this.rows) for (const list of [r.own, r.amounts, r.actual, r.actualIn]) list?.push(...Array(by).fill(0));
    for (const c of Object.keys(this.rates)) this.rates[c].push(...Array(by).fill(this.rates[c].at(-1) ?? ["", ""]));
    this.months += by;
    this.span[1] = this.months;
    this.columns();
    return true;
  }
}
