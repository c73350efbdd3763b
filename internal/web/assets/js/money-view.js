// The grid of a project's money as it is seen: only the lines and months in sight are drawn.
import { html } from "lit-html";
import { format } from "./amount.js";
import { fill } from "./draw.js";
import { Carry } from "./money-carry.js";
import { Groups } from "./money-groups.js";
import { foot, head, lines, options, tools } from "./money-lines.js";
import { MoneyMoves } from "./money-moves.js";

export const ROW = 26; // pixels
const SPARE = 8; // rows, and a quarter as many columns, drawn beyond what is seen
const EM = 7.3; // width of a digit

export class MoneyView extends MoneyMoves {
  build() {
    this.host.querySelector("[data-money-still]").hidden = true;
    this.tools.hidden = this.grid.hidden = false;
    fill(this.tools, tools(this));
    fill(
      this.grid,
      html`<table role="grid" aria-label="Money by line and month" aria-multiselectable="true" tabindex="0">
        <colgroup></colgroup>
        <thead></thead>
        <tbody></tbody>
        <tfoot></tfoot>
      </table>`,
    );
    this.table = this.grid.querySelector("table");
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
    fill(this.table.tHead, head(this));
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
    fill(
      this.table.querySelector("colgroup"),
      [this.lineWide, ...this.cols.map(() => this.wide), this.sumWide].map((w) => html`<col width=${w} />`),
    );
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
    const { top, end } = this.view;
    fill(this.body, lines(this, top, end));
    for (const p of this.body.querySelectorAll("[data-pad]")) p.style.height = p.dataset.pad * ROW + "px";
    fill(this.table.tFoot, foot(this));
    this.select(false);
    this.count();
    this.carry?.mark();
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
    const to = this.tools.querySelector("[data-pick=to]");
    for (const name of ["from", "to"]) {
      const box = this.tools.querySelector(`[data-pick=${name}]`);
      const first = name === "to" ? 1 : 0;
      fill(box, options(Array.from({ length: this.months }, (_, i) => [i + first, this.month(i).name])));
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
