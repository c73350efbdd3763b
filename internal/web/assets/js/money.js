// The grid of a project's money: a sheet of lines by months with the keys of a spreadsheet. Amounts are whole minor units; totals in
// the shown currency follow at once by the plan rates that the server sent. Nothing is written before it is saved with a reason.
import { attachDaysIn, dayOf } from "./days.js";
import { convert, format, parse } from "./amount.js";
import { safe } from "./bars.js";
import { Carry } from "./money-carry.js";
import { DIMENSIONS, Groups } from "./money-groups.js";

const ROW = 26;
const SPARE = 8; // rows, and a quarter as many columns, drawn beyond what is seen
const EM = 7.3; // width of a digit

class Money {
  constructor(host, data) {
    Object.assign(this, data);
    this.host = host;
    this.tools = host.querySelector("[data-money-tools]");
    this.grid = host.querySelector("[data-money-grid]");
    this.say = host.querySelector("[data-money-say]");
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
    if (this.locked > 18) this.span[0] = this.locked - 12; // the months that matter first; the rest is a choice away
    this.build();
    this.plan();
    this.at.col = Math.max(
      0,
      this.cols.findIndex((c) => c.from >= this.locked),
    );
    this.at.row = Math.max(
      0,
      this.shown.findIndex((s) => s.row?.edit),
    );
    this.grid.scrollLeft = 1e6; // back from the end, so that the open months stand in view with what was spent before them
    this.at.col = Math.max(0, this.at.col - 3);
    this.select();
    this.at.col = Math.min(this.cols.length - 1, this.at.col + 3);
    this.select(false);
  }

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

  build() {
    this.host.querySelector("[data-money-still]").hidden = true;
    this.tools.hidden = this.grid.hidden = false;
    const pick = (name, label, options) =>
      `<label>${label} <select class="form-select" data-${name}>${options.map(([v, t, on]) => `<option value="${v}"${on ? " selected" : ""}>${safe(t)}</option>`).join("")}</select></label>`;
    const months = Array.from({ length: this.months }, (_, i) => this.month(i).name);
    this.tools.innerHTML =
      `<span class="group-by"></span>` +
      pick("step", "by", [
        ["month", "month", true],
        ["quarter", "quarter"],
        ["year", "year"],
      ]) +
      pick(
        "from",
        "from",
        months.map((t, i) => [i, t, i === this.span[0]]),
      ) +
      pick(
        "to",
        "to",
        months.map((t, i) => [i + 1, t, i + 1 === this.span[1]]),
      ) +
      (this.may
        ? `<button type="button" class="quiet" data-act="fill">Fill right</button><button type="button" class="quiet" data-act="spread">Spread…</button><button type="button" class="quiet" data-act="later">Copy a year on</button><button type="button" class="quiet" data-act="longer">Show a year more</button>`
        : "");
    this.grid.innerHTML = `<table role="grid" aria-label="Money by line and month" aria-multiselectable="true" tabindex="0"><colgroup></colgroup><thead></thead><tbody></tbody><tfoot></tfoot></table>`;
    this.table = this.grid.firstChild;
    this.body = this.table.tBodies[0];
    new Groups(this.tools.querySelector(".group-by"), this.groups, (groups) => {
      this.groups = groups;
      this.plan();
    });
    this.carry = new Carry(this);
    this.listen();
    for (const part of ["save", "add", "keys"]) this.host.querySelectorAll(`[data-money-${part}]`).forEach((e) => (e.hidden = false));
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
    this.measure();
    this.table.tHead.innerHTML = `<tr><th scope="col" class="line">Line</th>${this.cols.map((c) => `<th scope="col" class="num${c.to <= this.locked ? " locked" : ""}">${safe(c.name)}</th>`).join("")}<th scope="col" class="num sum">In all, ${safe(this.currency)}</th></tr>`;
    this.draw();
  }

  // measure gives every column the room of the largest amount, so that only those in sight need be drawn.
  measure() {
    let most = 1;
    let whole = 1;
    for (const r of this.rows) {
      let all = 0;
      for (let i = 0; i < this.months; i++) {
        most = Math.max(most, Math.abs(this.own(r, i)));
        all += Math.abs(this.worth(r, i));
      }
      whole += all;
    }
    const month = Array.from({ length: this.months }, (_, i) => this.rows.reduce((n, r) => n + Math.abs(this.worth(r, i)), 0));
    const times = this.step === "month" ? 1 : this.step === "quarter" ? 3 : 12;
    const wide = (v) => Math.ceil(format(Math.max(Math.round(v), 1), 2).length * EM + 20);
    this.wide = Math.max(88, wide(Math.max(most, ...month) * times));
    this.lineWide = innerWidth < 900 ? 120 : 250;
    this.sumWide = Math.max(120, wide(whole));
    this.table.querySelector("colgroup").innerHTML = [this.lineWide, ...this.cols.map(() => this.wide), this.sumWide]
      .map((w) => `<col width="${w}">`)
      .join("");
    this.table.width = this.lineWide + this.cols.length * this.wide + this.sumWide;
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

  // seen is the part of the grid to draw, in rows and columns.
  seen() {
    const rows = Math.ceil((this.grid.clientHeight || 420) / ROW);
    const top = Math.max(0, Math.floor(this.grid.scrollTop / ROW) - SPARE);
    const left = Math.max(0, Math.floor(this.grid.scrollLeft / this.wide) - SPARE / 4);
    const across = Math.ceil(((this.grid.clientWidth || 1200) - this.lineWide) / this.wide);
    return {
      top,
      end: Math.min(this.shown.length, top + rows + 2 * SPARE),
      left,
      right: Math.min(this.cols.length, left + across + SPARE / 2),
    };
  }

  // scrolled draws only once what was drawn no longer covers what is seen.
  scrolled() {
    const rows = Math.ceil(this.grid.clientHeight / ROW);
    const top = Math.floor(this.grid.scrollTop / ROW);
    const left = Math.floor(this.grid.scrollLeft / this.wide);
    const across = Math.ceil((this.grid.clientWidth - this.lineWide) / this.wide);
    const v = this.view;
    const covered =
      v &&
      top >= v.top &&
      Math.min(this.shown.length, top + rows) <= v.end &&
      left >= v.left &&
      Math.min(this.cols.length, left + across) <= v.right;
    if (!covered) this.draw();
  }

  draw() {
    if (this.editing) return;
    this.view = this.seen();
    const pad = (n) => (n > 0 ? `<tr class="pad" aria-hidden="true"><td colspan="${this.cols.length + 2}" data-pad="${n}"></td></tr>` : "");
    let html = pad(this.view.top);
    for (let y = this.view.top; y < this.view.end; y++) html += this.line(y);
    this.body.innerHTML = html + pad(this.shown.length - this.view.end);
    for (const p of this.body.querySelectorAll("[data-pad]")) p.style.height = p.dataset.pad * ROW + "px";
    this.foot();
    this.select(false);
    this.count();
    this.carry?.mark();
  }

  // across writes a row's cells of the columns in sight, and room for the others.
  across(cell) {
    const { left, right } = this.view;
    const room = (n) => (n > 0 ? `<td colspan="${n}" class="room"></td>` : "");
    let html = room(left);
    for (let x = left; x < right; x++) html += cell(this.cols[x], x);
    return html + room(this.cols.length - right);
  }

  line(y) {
    const s = this.shown[y];
    const indent = s.depth > 0 ? ` data-depth="${Math.min(s.depth, 5)}"` : "";
    if (s.group) {
      const closed = this.closed.has(s.group.path);
      return (
        `<tr class="group" data-y="${y}"><th scope="row"${indent}><button type="button" class="fold" data-fold="${safe(s.group.path)}" aria-expanded="${!closed}">${closed ? "▸" : "▾"} ${safe(s.group.name)}</button></th>` +
        this.across(
          (c, x) => `<td class="num" data-x="${x}">${format(this.sum(s.group.rows, c.from, c.to), this.decimals[this.currency])}</td>`,
        ) +
        `<td class="num sum">${format(this.sum(s.group.rows, 0, this.months), this.decimals[this.currency])}</td></tr>`
      );
    }
    const r = s.row;
    const places = this.decimals[r.currency];
    const cells = this.across((c, x) => {
      let v = 0;
      for (let i = c.from; i < c.to; i++) v += this.own(r, i);
      const id = `${r.id}:${c.from}`;
      const one = this.step === "month";
      const cls = ["num"];
      if (one && this.was.has(id)) cls.push("changed");
      if (one && this.faults.has(id)) cls.push("fault");
      if (!this.open(r, c.from) || !one) cls.push("fixed");
      const why = one ? (this.faults.get(id) ?? (this.was.has(id) ? `was ${format(this.was.get(id), places) || "empty"}` : "")) : "";
      return `<td class="${cls.join(" ")}" data-x="${x}"${why ? ` title="${safe(why)}"` : ""}${one && this.faults.has(id) ? ' aria-invalid="true"' : ""}>${format(v, places)}</td>`;
    });
    const says = [
      this.show === "all" ? r.kind : "",
      this.groups.includes("activity") ? "" : r.activity,
      r.centre,
      r.currency === this.currency ? "" : r.currency,
      r.change && `change ${r.change}`,
      r.supplier,
      r.note,
    ]
      .filter(Boolean)
      .join(" · ");
    const name = this.groups.includes("code") ? "" : `${r.code} ${this.byCode[r.code]?.name ?? ""}`;
    return `<tr data-y="${y}"><th scope="row"${indent} title="${safe([name, says, r.spread ? "spread over a span; a change writes it month by month" : "", r.problem].filter(Boolean).join(" · "))}">${safe(name)} <small>${safe(says)}</small></th>${cells}<td class="num sum">${r.problem ? `<span class="tone-act" title="${safe(r.problem)}">–</span>` : format(this.sum([r], 0, this.months), this.decimals[this.currency])}</td></tr>`;
  }

  foot() {
    const places = this.decimals[this.currency];
    if (this.show === "all") {
      // budget, actual cost and forecast together are no figure
      this.table.tFoot.innerHTML = `<tr><th scope="row">Kinds do not add up</th><td colspan="${this.cols.length}"></td><td class="sum"></td></tr>`;
      return;
    }
    this.table.tFoot.innerHTML = `<tr><th scope="row">Total, ${safe(this.currency)}</th>${this.across((c) => `<td class="num">${format(this.sum(this.rows, c.from, c.to), places)}</td>`)}<td class="num sum" data-total>${format(this.sum(this.rows, 0, this.months), places)}</td></tr>`;
  }

  count() {
    const n = this.was.size;
    const box = this.host.querySelector("[data-money-count]");
    if (box) box.textContent = n === 0 ? "nothing changed" : n === 1 ? "1 cell changed" : `${n} cells changed`;
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

  select(scroll = true) {
    for (const c of this.body.querySelectorAll("[aria-selected]")) c.removeAttribute("aria-selected");
    this.body.querySelector(".here")?.classList.remove("here");
    const { y1, y2, x1, x2 } = this.range();
    for (const tr of this.body.querySelectorAll("tr[data-y]")) {
      const y = Number(tr.dataset.y);
      if (y < y1 || y > y2) continue;
      for (const td of tr.cells)
        if (td.dataset.x !== undefined && td.dataset.x >= x1 && td.dataset.x <= x2) td.setAttribute("aria-selected", "true");
    }
    const cell = this.cell(this.at.row, this.at.col);
    cell?.classList.add("here");
    if (scroll) this.reveal();
    this.sums(y1, y2, x1, x2);
  }

  sums(y1, y2, x1, x2) {
    if (y1 === y2 && x1 === x2) return;
    let s = 0;
    for (let y = y1; y <= y2; y++) if (this.shown[y]?.row) s += this.sum([this.shown[y].row], this.cols[x1].from, this.cols[x2].to);
    this.tell(`Selected: ${format(s, this.decimals[this.currency]) || "0"} ${this.currency}`);
  }

  tell(text, bad = false) {
    this.say.textContent = text;
    this.say.classList.toggle("tone-act", bad);
  }

  cell(y, x) {
    return this.body.querySelector(`tr[data-y="${y}"] > [data-x="${x}"]`);
  }

  reveal() {
    const y = this.at.row * ROW;
    const room = this.grid.clientHeight - this.table.tHead.offsetHeight - 2 * ROW; // between head and total
    if (y < this.grid.scrollTop) this.grid.scrollTop = y;
    else if (y > this.grid.scrollTop + room) this.grid.scrollTop = y - room;
    const x = this.at.col * this.wide;
    const span = this.grid.clientWidth - this.lineWide - this.sumWide - this.wide;
    if (x < this.grid.scrollLeft) this.grid.scrollLeft = x;
    else if (x > this.grid.scrollLeft + span) this.grid.scrollLeft = x - span;
  }

  go(dy, dx, extend) {
    if (extend) this.anchor ??= { ...this.at };
    else this.anchor = null;
    this.at.row = Math.max(0, Math.min(this.shown.length - 1, this.at.row + dy));
    this.at.col = Math.max(0, Math.min(this.cols.length - 1, this.at.col + dx));
    this.reveal();
    this.scrolled();
    this.select(false);
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

  monthly() {
    if (this.step === "month") return true;
    this.tell("Amounts are changed by the month; choose “by month” first.", true);
    return false;
  }

  edit(text) {
    const s = this.shown[this.at.row];
    if (!this.monthly() || !s?.row) return;
    this.reveal();
    this.scrolled();
    const i = this.cols[this.at.col].from;
    if (!this.open(s.row, i))
      return this.tell(
        !this.may
          ? "This cannot be changed here."
          : i < this.locked
            ? "This month has ended: what was spent stands in it."
            : "This row cannot be changed.",
        true,
      );
    const cell = this.cell(this.at.row, this.at.col);
    const places = this.decimals[s.row.currency];
    const input = document.createElement("input");
    input.value = text ?? (s.row.own[i] === 0 ? "" : format(s.row.own[i], places).replaceAll(",", "").replace("−", "-"));
    input.setAttribute("aria-label", `${s.row.code} ${this.cols[this.at.col].name}`);
    input.inputMode = "decimal";
    cell.textContent = "";
    cell.append(input);
    this.editing = { input, row: s.row, i, places };
    input.focus();
    if (text === undefined) input.select();
    input.addEventListener("blur", () => this.leave(true));
  }

  // leave ends the editing of a cell; one that is no amount stays open and says so.
  leave(keep) {
    const e = this.editing;
    if (!e) return true;
    const v = keep ? parse(e.input.value, e.places) : null;
    if (keep && v === null) {
      this.tell(`“${e.input.value}” is no amount; expected a number such as 1234.50 with at most ${e.places} decimals.`, true);
      e.input.setAttribute("aria-invalid", "true");
      if (document.activeElement !== e.input && document.hasFocus()) {
        this.editing = null; // left for somewhere else: the cell stays as it was
        this.draw();
      }
      return false;
    }
    this.editing = null;
    if (!keep || !this.set([[e.row, e.i, v]])) this.draw();
    this.table.focus({ preventScroll: true });
    return true;
  }

  copy() {
    const { y1, y2, x1, x2 } = this.range();
    const lines = [];
    for (let y = y1; y <= y2; y++) {
      const s = this.shown[y];
      const line = [];
      for (let x = x1; x <= x2; x++) {
        const c = this.cols[x];
        let v = 0;
        if (s.row) for (let i = c.from; i < c.to; i++) v += this.own(s.row, i);
        else v = this.sum(s.group.rows, c.from, c.to);
        line.push(
          format(v, this.decimals[s.row ? s.row.currency : this.currency])
            .replaceAll(",", "")
            .replace("−", "-"),
        );
      }
      lines.push(line.join("\t"));
    }
    return lines.join("\n");
  }

  // paste puts a block where one stands; a block that does not fit, or has a cell that is no amount, is refused whole.
  paste(text) {
    if (!this.monthly()) return;
    const block = text
      .replace(/\r\n?/g, "\n")
      .replace(/\n$/, "")
      .split("\n")
      .map((l) => l.split("\t"));
    const { y1, y2, x1, x2 } = this.range();
    const wide = Math.max(...block.map((l) => l.length));
    const room = this.cols.length - x1;
    if (wide > room)
      return this.tell(
        `The block has ${wide} months and there are ${room} from here; nothing was pasted. Show more months, or paste fewer.`,
        true,
      );
    const rows = [];
    for (let y = y1; y < this.shown.length && rows.length < block.length; y++) if (this.shown[y].row) rows.push(this.shown[y].row);
    if (rows.length < block.length)
      return this.tell(`The block has ${block.length} lines and there are ${rows.length} from here; nothing was pasted.`, true);
    const changes = [];
    const put = (r, x, cell, line) => {
      const v = parse(cell, this.decimals[r.currency]);
      if (v === null) {
        this.tell(`Line ${line + 1} of the block, ${this.cols[x].name}: “${cell.slice(0, 40)}” is no amount; nothing was pasted.`, true);
        return false;
      }
      changes.push([r, this.cols[x].from, v]);
      return true;
    };
    if (block.length === 1 && wide === 1 && (y2 > y1 || x2 > x1)) {
      // one amount fills the selection
      for (let y = y1; y <= y2; y++)
        for (let x = x1; x <= x2; x++) if (this.shown[y].row && !put(this.shown[y].row, x, block[0][0], 0)) return;
    } else {
      for (const [k, cells] of block.entries()) for (const [x, cell] of cells.entries()) if (!put(rows[k], x1 + x, cell, k)) return;
    }
    if (this.set(changes) && block.length * wide > 1)
      this.tell(`Pasted ${block.length} by ${wide}. ${this.say.textContent}`.trim(), this.say.classList.contains("tone-act"));
  }

  fill(right) {
    if (!this.monthly()) return;
    const { y1, y2, x1, x2 } = this.range();
    const changes = [];
    if (right) {
      const to = x2 > x1 ? x2 : this.cols.length - 1;
      for (let y = y1; y <= y2; y++) {
        const r = this.shown[y]?.row;
        if (r) for (let x = x1 + 1; x <= to; x++) changes.push([r, this.cols[x].from, this.own(r, this.cols[x1].from)]);
      }
    } else {
      const r = this.shown[y1]?.row;
      for (let y = y1 + 1; r && y <= y2; y++)
        if (this.shown[y].row)
          for (let x = x1; x <= x2; x++) changes.push([this.shown[y].row, this.cols[x].from, this.own(r, this.cols[x].from)]);
    }
    this.set(changes);
  }

  // shift moves the selected amounts along the months, adding them to what stands there.
  shift(by) {
    if (!this.monthly()) return;
    const next = new Map();
    const value = (r, i) => next.get(`${r.id}:${i}`)?.[2] ?? r.own[i];
    const moves = [];
    let out = false;
    this.selected((r, i) => {
      if (!this.open(r, i) || r.own[i] === 0) return;
      if (i + by < this.locked || i + by >= this.months) out = true;
      moves.push([r, i, r.own[i]]);
    });
    if (out) return this.tell("There is no open month to move to; nothing was moved.", true);
    for (const [r, i, v] of moves) next.set(`${r.id}:${i}`, [r, i, value(r, i) - v]);
    for (const [r, i, v] of moves) next.set(`${r.id}:${i + by}`, [r, i + by, value(r, i + by) + v]);
    if (moves.length === 0) return this.tell("Nothing that can be moved is selected.", true);
    if (this.set([...next.values()])) {
      const col = (x) => Math.max(0, Math.min(this.cols.length - 1, x + by));
      if (this.anchor) this.anchor.col = col(this.anchor.col);
      this.at.col = col(this.at.col);
      this.select();
      const what =
        moves.length === 1
          ? `${format(moves[0][2], this.decimals[moves[0][0].currency])} ${moves[0][0].currency}`
          : `${moves.length} amounts`;
      this.tell(`Moved ${what} by ${Math.abs(by) === 1 ? "1 month" : `${Math.abs(by)} months`}; Ctrl+Z takes it back.`);
    }
  }

  // later copies the open months of the selected lines a year on, where room is made for them.
  later() {
    const { y1, y2 } = this.range();
    const lines = this.shown
      .slice(y1, y2 + 1)
      .map((s) => s.row)
      .filter((r) => r?.edit);
    if (lines.length === 0) return this.tell("Choose a line first.", true);
    const last = Math.max(...lines.map((r) => r.own.findLastIndex((v) => v !== 0)));
    if (last + 12 >= this.months) this.widen(last + 13 - this.months);
    const changes = [];
    for (const r of lines)
      for (let i = this.locked; i + 12 < this.months; i++) if (i <= last && r.own[i] !== 0) changes.push([r, i + 12, r.own[i]]);
    this.set(changes);
  }

  widen(by) {
    if (this.months + by > 600) return this.tell("No more than fifty years fit.", true);
    for (const r of this.rows) for (const list of [r.own, r.amounts, r.actual, r.actualIn]) list?.push(...Array(by).fill(0));
    for (const c of Object.keys(this.rates)) this.rates[c].push(...Array(by).fill(this.rates[c].at(-1) ?? ["", ""]));
    this.months += by;
    this.span[1] = this.months;
    const to = this.tools.querySelector("[data-to]");
    for (const name of ["from", "to"]) {
      const box = this.tools.querySelector(`[data-${name}]`);
      box.innerHTML = Array.from(
        { length: this.months },
        (_, i) => `<option value="${name === "to" ? i + 1 : i}">${safe(this.month(i).name)}</option>`,
      ).join("");
      box.value = name === "to" ? this.span[1] : this.span[0];
    }
    to.value = this.months;
    this.columns();
  }

  async spread() {
    const s = this.shown[this.at.row];
    if (!s?.row?.edit) return this.tell("Choose a line first.", true);
    const r = s.row;
    const { x1, x2 } = this.range();
    const i1 = Math.max(this.locked, this.cols[x1].from);
    const i2 = Math.max(i1, x2 > x1 ? this.cols[x2].to - 1 : Math.min(this.months - 1, i1 + 11));
    const days = (i, end) => {
      const m = this.month(i);
      return end ? new Date(Date.UTC(m.y, m.m + 1, 0)).toISOString().slice(0, 10) : m.iso + "-01";
    };
    let total = 0;
    for (let i = i1; i <= i2; i++) total += r.own[i];
    const dialog = document.createElement("dialog");
    dialog.setAttribute("aria-label", "Spread an amount");
    dialog.innerHTML = `<form method="dialog" class="asking"><h2>Spread an amount over ${safe(r.code)}</h2><label>Amount, ${safe(r.currency)} <input class="form-control" name="amount" required value="${format(total, this.decimals[r.currency]).replaceAll(",", "").replace("−", "-")}"></label><label>From <input class="form-control" type="date" name="from" required value="${days(i1, false)}"></label><label>to <input class="form-control" type="date" name="to" required value="${days(i2, true)}"></label><label>by <select class="form-select" name="profile"><option>even</option><option>early</option><option>late</option><option>bell</option></select></label><p class="tone-act" role="alert"></p><button class="btn btn-primary" value="spread">Spread</button><button class="btn btn-outline-primary" value="" formnovalidate>Leave it</button></form>`;
    attachDaysIn(dialog);
    document.body.append(dialog);
    const form = dialog.firstChild;
    form.addEventListener("submit", async (event) => {
      if (event.submitter?.value !== "spread") return;
      event.preventDefault();
      const q = new URLSearchParams({
        of: r.currency,
        amount: form.amount.value,
        from: dayOf(form.from),
        to: dayOf(form.to),
        profile: form.profile.value,
      });
      const answer = await fetch(`${this.host.dataset.save}/spread.json?${q}`, { headers: { Accept: "application/json" } }).catch(
        () => null,
      );
      const data = answer?.ok ? await answer.json().catch(() => null) : null;
      if (!data) {
        const page = answer
          ? new DOMParser()
              .parseFromString(await answer.text(), "text/html")
              .querySelector("main")
              ?.textContent.trim()
          : "";
        form.querySelector("[role=alert]").textContent = page || "That did not arrive; try again.";
        return;
      }
      const [fy, fm] = this.first.split("-").map(Number);
      const [y, m] = data.first.split("-").map(Number);
      const at = (y - fy) * 12 + (m - fm);
      if (at < this.locked) {
        form.querySelector("[role=alert]").textContent = `The first open month is ${this.month(this.locked).name}.`;
        return;
      }
      if (at + data.parts.length > this.months) this.widen(at + data.parts.length - this.months);
      const changes = data.parts.map((v, k) => [r, at + k, v]);
      for (let i = i1; i <= i2; i++) if (i < at || i >= at + data.parts.length) changes.push([r, i, 0]);
      dialog.close();
      this.set(changes);
    });
    dialog.addEventListener("close", () => {
      dialog.remove();
      this.table.focus({ preventScroll: true });
    });
    dialog.showModal();
  }

  addLine(form) {
    const code = form.code.value;
    const currency = form.currency.value.trim().toUpperCase() || this.own_ || this.currency;
    if (!(currency in this.decimals)) return this.tell(`There are no rates of “${currency}”, so its amounts could not be added up.`, true);
    const row = {
      id: this.rows.length,
      kind: this.kind,
      code,
      activity: form.activity.value.trim(),
      centre: form.centre.value.trim(),
      currency,
      change: "",
      supplier: "",
      note: form.note.value.trim(),
      edit: true,
      own: Array(this.months).fill(0),
      amounts: Array(this.months).fill(0),
    };
    const same = this.rows.find(
      (r) => r.edit && ["code", "activity", "centre", "currency", "change", "note"].every((k) => r[k] === row[k]),
    );
    if (!same) this.rows.push(row);
    this.closed.clear();
    this.plan();
    this.at = {
      row: Math.max(
        0,
        this.shown.findIndex((s) => s.row === (same ?? row)),
      ),
      col: Math.max(
        0,
        this.cols.findIndex((c) => c.from >= this.locked),
      ),
    };
    this.anchor = null;
    this.reveal();
    this.draw();
    this.select();
    this.table.focus({ preventScroll: true });
    if (same) this.tell("That line is there already; a note, an activity or a cost centre tells two lines of one code apart.");
  }

  async save(form) {
    if (!this.leave(true)) return;
    const cells = [];
    const ids = [];
    const text = (v, c) => (v === 0 ? "" : format(v, this.decimals[c]).replaceAll(",", "").replace("−", "-"));
    for (const [id, was] of this.was) {
      const [k, i] = id.split(":").map(Number);
      const r = this.rows[k];
      cells.push({
        code: r.code,
        activity: r.activity,
        centre: r.centre,
        currency: r.currency,
        change: r.change,
        note: r.note,
        month: this.month(i).iso,
        old: text(was, r.currency),
        new: text(r.own[i], r.currency),
      });
      ids.push(id);
    }
    if (cells.length === 0) return this.tell("Nothing was changed, so there is nothing to save.", true);
    this.tell("Saving…");
    const answer = await fetch(this.host.dataset.save + location.search, {
      method: "POST",
      headers: { "Content-Type": "application/json", "X-Csrf-Token": document.body.dataset.token },
      body: JSON.stringify({ kind: this.kind, reason: form.reason.value, cells }),
    }).catch(() => null);
    const data = await answer?.json().catch(() => null);
    if (answer?.ok && data) {
      this.saved = true;
      const to = new URL(location.href);
      location.href = to;
      return;
    }
    this.faults.clear();
    for (const c of data?.cells ?? []) if (ids[c.index]) this.faults.set(ids[c.index], c.says);
    this.tell(data?.error ?? "That did not arrive. What you changed is still here; try again.", true);
    this.draw();
  }

  act(name) {
    ({ fill: () => this.fill(true), spread: () => this.spread(), later: () => this.later(), longer: () => this.widen(12) })[name]?.();
    if (name !== "spread") this.table.focus({ preventScroll: true });
  }

  keys(event) {
    const ctrl = event.ctrlKey || event.metaKey;
    const key = event.key;
    if (this.editing) {
      if (key === "Escape") this.leave(false);
      else if (key === "Enter" || key === "Tab") {
        if (this.leave(true)) this.go(key === "Enter" ? (event.shiftKey ? -1 : 1) : 0, key === "Tab" ? (event.shiftKey ? -1 : 1) : 0);
      } else return;
      return event.preventDefault();
    }
    const arrows = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] };
    if (arrows[key] && event.altKey && arrows[key][0] === 0) this.shift(arrows[key][1]);
    else if (arrows[key] && ctrl) this.go(arrows[key][0] * 1e6, arrows[key][1] * 1e6, event.shiftKey);
    else if (arrows[key]) this.go(...arrows[key], event.shiftKey);
    else if (key === "PageDown" || key === "PageUp")
      this.go((key === "PageDown" ? 1 : -1) * Math.max(1, Math.floor(this.grid.clientHeight / ROW) - 2), 0, event.shiftKey);
    else if (key === "Home") this.go(ctrl ? -1e6 : 0, -1e6, event.shiftKey);
    else if (key === "End") this.go(ctrl ? 1e6 : 0, 1e6, event.shiftKey);
    else if (ctrl && key.toLowerCase() === "z") event.shiftKey ? this.redo() : this.undo();
    else if (ctrl && key.toLowerCase() === "y") this.redo();
    else if (ctrl && key.toLowerCase() === "r") this.fill(true);
    else if (ctrl && key.toLowerCase() === "d") this.fill(false);
    else if (ctrl && key.toLowerCase() === "s") this.host.querySelector("[data-money-save] [name=reason]")?.focus();
    else if (ctrl && key.toLowerCase() === "a") {
      this.anchor = { row: 0, col: 0 };
      this.at = { row: this.shown.length - 1, col: this.cols.length - 1 };
      this.select(false);
    } else if (ctrl) return;
    else if (key === "Enter" && this.shown[this.at.row]?.group) this.fold(this.shown[this.at.row].group.path);
    else if (key === "Enter") this.go(event.shiftKey ? -1 : 1, 0);
    else if (key === "Tab") {
      if (event.shiftKey ? this.at.col === 0 : this.at.col === this.cols.length - 1) return; // out of the grid
      this.go(0, event.shiftKey ? -1 : 1);
    } else if (key === "F2") this.edit();
    else if (key === "Delete" || key === "Backspace") {
      if (this.monthly()) {
        const changes = [];
        this.selected((r, i) => changes.push([r, i, 0]));
        this.set(changes);
      }
    } else if (key.length === 1 && /[-+0-9.,(]/.test(key)) this.edit(key);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  fold(path) {
    if (this.closed.has(path)) this.closed.delete(path);
    else this.closed.add(path);
    this.plan();
  }

  listen() {
    this.table.addEventListener("keydown", (event) => this.keys(event));
    this.table.addEventListener("copy", (event) => {
      if (this.editing) return;
      event.clipboardData.setData("text/plain", this.copy());
      event.preventDefault();
    });
    this.table.addEventListener("paste", (event) => {
      if (this.editing) return;
      this.paste(event.clipboardData.getData("text/plain"));
      event.preventDefault();
    });
    this.grid.addEventListener("scroll", () => {
      if (this.waiting) return;
      this.waiting = requestAnimationFrame(() => {
        this.waiting = 0;
        this.scrolled();
      });
    });
    const spot = (event) => {
      const td = event.target.closest("td[data-x]");
      return td && { row: Number(td.parentNode.dataset.y), col: Number(td.dataset.x) };
    };
    this.body.addEventListener("pointerdown", (event) => {
      const fold = event.target.closest("[data-fold]");
      const at = spot(event);
      if (fold || !at || event.target.closest("input")) return;
      if (this.editing && !this.leave(true)) return event.preventDefault();
      if (!event.shiftKey && this.carry.grab(at)) return;
      if (event.shiftKey) this.anchor ??= { ...this.at };
      else this.anchor = null;
      this.at = at;
      this.dragging = !event.shiftKey;
      this.select(false);
    });
    this.body.addEventListener("pointermove", (event) => {
      if (this.carry.from) return this.carry.move(spot(event), event.clientX);
      const at = this.dragging && event.buttons === 1 && spot(event);
      if (!at || (at.row === this.at.row && at.col === this.at.col)) return;
      this.anchor ??= { ...this.at };
      this.at = at;
      this.select(false);
    });
    this.body.addEventListener("click", (event) => {
      const fold = event.target.closest("[data-fold]");
      if (fold) this.fold(fold.dataset.fold);
    });
    this.body.addEventListener("dblclick", (event) => spot(event) && this.edit());
    this.tools.addEventListener("change", (event) => {
      const t = event.target;
      if (t.dataset.step !== undefined) this.step = t.value;
      if (t.dataset.from !== undefined) this.span[0] = Math.min(Number(t.value), this.span[1] - 1);
      if (t.dataset.to !== undefined) this.span[1] = Math.max(Number(t.value), this.span[0] + 1);
      this.columns();
    });
    this.tools.addEventListener("click", (event) => {
      const act = event.target.closest("[data-act]");
      if (act) this.act(act.dataset.act);
    });
    const form = this.host.querySelector("[data-money-save]");
    form?.addEventListener("submit", (event) => {
      event.preventDefault();
      this.save(form);
    });
    form?.querySelector("[data-undo]").addEventListener("click", () => this.undo());
    form?.querySelector("[data-redo]").addEventListener("click", () => this.redo());
    this.host.querySelector("[data-money-add]")?.addEventListener("submit", (event) => {
      event.preventDefault();
      this.addLine(event.target);
    });
    addEventListener("beforeunload", (event) => {
      if (this.was.size > 0 && !this.saved) event.preventDefault();
    });
  }
}

export async function attachMoney() {
  const host = document.querySelector("[data-money]");
  if (!host) return;
  const answer = await fetch(host.dataset.money, { headers: { Accept: "application/json" } }).catch(() => null);
  if (!answer?.ok) {
    host.querySelector("[data-money-say]").textContent =
      "The grid did not arrive; what stands below is the same money, line by line. Reload to try again.";
    return;
  }
  const data = await answer.json();
  data.own_ = data.own;
  delete data.own;
  host.money = new Money(host, data);
}
