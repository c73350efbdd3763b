// The grid of a project's money under mouse and keys, with the keys of a spreadsheet. Nothing is written before it is saved with a reason.
import { parse, plain } from "./amount.js";
import { means } from "./keyboard.js";
import { addLine, save, spread } from "./money-forms.js";
import { MoneyView, ROW } from "./money-view.js";

class Money extends MoneyView {
  constructor(host, data) {
    super(data);
    this.host = host;
    this.tools = host.querySelector("[data-money-tools]");
    this.grid = host.querySelector("[data-money-grid]");
    this.say = host.querySelector("[data-money-say]");
    if (this.locked > 18) this.span[0] = this.locked - 12; // the months that matter first; the rest is a choice away
    this.build();
    this.listen();
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
    input.value = text ?? (s.row.own[i] === 0 ? "" : plain(s.row.own[i], places));
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

  act(name) {
    ({ fill: () => this.fill(true), spread: () => spread(this), later: () => this.later(), longer: () => this.widen(12) })[name]?.();
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
    else if (/^\p{L}$/u.test(key) && !means(key)) this.tell(`“${key}” begins no amount; type a digit, a sign or a bracket.`, true);
    else return;
    event.preventDefault();
    event.stopPropagation();
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
      const { value, dataset } = event.target;
      if (dataset.pick === "step") this.step = value;
      if (dataset.pick === "from") this.span[0] = Math.min(Number(value), this.span[1] - 1);
      if (dataset.pick === "to") this.span[1] = Math.max(Number(value), this.span[0] + 1);
      this.columns();
    });
    this.tools.addEventListener("click", (event) => {
      const act = event.target.closest("[data-act]");
      if (act) this.act(act.dataset.act);
    });
    const form = this.host.querySelector("[data-money-save]");
    form?.addEventListener("submit", (event) => {
      event.preventDefault();
      save(this, form);
    });
    form?.querySelector("[data-undo]").addEventListener("click", () => this.undo());
    form?.querySelector("[data-redo]").addEventListener("click", () => this.redo());
    this.host.querySelector("[data-money-add]")?.addEventListener("submit", (event) => {
      event.preventDefault();
      addLine(this, event.target);
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
