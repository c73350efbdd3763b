// Amounts of the money grid carried along the months with the mouse: what is selected is grabbed and let go in another month, where it is
// added to what stands there. Alt and the arrows do the same by keys.

const EDGE = 48; // pixels at the sides of the grid at which it scrolls

// Carry answers the pointer between grabbing and letting go.
export class Carry {
  constructor(money) {
    this.money = money;
    document.addEventListener("pointerup", () => this.drop());
    document.addEventListener("pointercancel", () => this.leave());
    document.addEventListener("keydown", (event) => {
      if (event.key !== "Escape" || !this.from) return;
      this.leave();
      event.preventDefault();
    });
  }

  // grabs reports whether what is selected at a cell can be carried, and begins to.
  grab(at) {
    const m = this.money;
    const { y1, y2, x1, x2 } = m.range();
    const inside = at.row >= y1 && at.row <= y2 && at.col >= x1 && at.col <= x2;
    const cell = m.cell(at.row, at.col);
    if (!inside || !m.may || m.step !== "month" || !cell || cell.classList.contains("fixed") || cell.textContent.trim() === "")
      return false;
    this.from = at;
    this.by = 0;
    m.grid.classList.add("carrying");
    return true;
  }

  // move follows the pointer and shows where the amounts would come to stand.
  move(at, x) {
    const m = this.money;
    const box = m.grid.getBoundingClientRect();
    if (x > box.right - EDGE) m.grid.scrollLeft += EDGE / 2;
    else if (x < box.left + m.lineWide + EDGE) m.grid.scrollLeft -= EDGE / 2;
    if (!at) return;
    this.by = at.col - this.from.col;
    this.mark();
    if (this.by === 0) return m.tell("");
    const months = Math.abs(this.by) === 1 ? "1 month" : `${Math.abs(this.by)} months`;
    m.tell(`Let go to move by ${months}, to ${m.cols[at.col].name}; Esc leaves it.`);
  }

  // mark shows the cells in which the amounts would come to stand; it is called again when the grid was drawn anew.
  mark() {
    this.clear();
    if (!this.from || this.by === 0) return;
    const { y1, y2, x1, x2 } = this.money.range();
    for (let y = y1; y <= y2; y++) for (let x = x1 + this.by; x <= x2 + this.by; x++) this.money.cell(y, x)?.classList.add("target");
  }

  drop() {
    if (!this.from) return;
    const { from, by } = this;
    this.end();
    const m = this.money;
    if (by === 0) {
      m.anchor = null; // a click: this one cell
      m.at = from;
      m.select(false);
    } else m.shift(by);
    m.table.focus({ preventScroll: true });
  }

  leave() {
    if (!this.from) return;
    this.end();
    this.money.tell("Nothing was moved.");
  }

  end() {
    this.from = null;
    this.clear();
    this.money.grid.classList.remove("carrying");
  }

  clear() {
    for (const c of this.money.body.querySelectorAll(".target")) c.classList.remove("target");
  }
}
