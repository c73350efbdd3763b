// What is done with a block of amounts: copied, pasted, filled, moved along the months, copied a year on. Each is one step that can be taken
// back, and is done whole or not at all.
import { format, parse } from "./amount.js";
import { MoneySheet } from "./money-sheet.js";

export class MoneyMoves extends MoneySheet {
  monthly() {
    if (this.step === "month") return true;
    this.tell("Amounts are changed by the month; choose “by month” first.", true);
    return false;
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
    if (this.set(changes) && block.length * wide > 1) this.tell(`Pasted ${block.length} by ${wide}. ${this.told}`.trim(), this.bad);
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
    if (last + 12 >= this.months && !this.widen(last + 13 - this.months)) return;
    const changes = [];
    for (const r of lines)
      for (let i = this.locked; i + 12 < this.months; i++) if (i <= last && r.own[i] !== 0) changes.push([r, i + 12, r.own[i]]);
    this.set(changes);
  }
}
