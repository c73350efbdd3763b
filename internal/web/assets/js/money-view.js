// The grid of a project's money as it is seen: only the lines and months in sight are drawn.
import { format } from "./amount.js";
import { safe } from "./bars.js";
import { Carry } from "./money-carry.js";
import { Groups } from "./money-groups.js";
import { MoneyMoves } from "./money-moves.js";

export const ROW = 26; // pixels
const SPARE = 8; // rows, and a quarter as many columns, drawn beyond what is seen
const EM = 7.3; // width of a digit

export class MoneyView extends MoneyMoves {
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
    for (const part of ["save", "add", "keys"]) this.host.querySelectorAll(`[data-money-${part}]`).forEach((e) => (e.hidden = false));
  }

  columns() {
    super.columns();
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
    super.tell(text, bad);
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

  widen(by) {
    if (!super.widen(by)) return false;
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
    return true;
  }

  fold(path) {
    if (this.closed.has(path)) this.closed.delete(path);
    else this.closed.add(path);
    this.plan();
  }
}
