// Tables of records: sorted, filtered, with columns chosen and put in order, kept in the address and by name, taken as files.
import { compareKeys, matches, sortKey } from "./cells.js";
import { orderable } from "./order.js";
import { attachTools } from "./table-tools.js";

const slug = (text) =>
  text
    .trim()
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "");

const texts = new WeakMap();

// said is what a cell shows, on one line, without what acts on it; a mark says its label.
function said(cell) {
  if (!texts.has(cell)) {
    const bare = cell.cloneNode(true);
    bare.querySelectorAll("form, details, button:not(.sort)").forEach((x) => x.remove());
    bare.querySelectorAll("br").forEach((x) => x.replaceWith(" "));
    const label = bare.querySelector("[aria-label]")?.getAttribute("aria-label") ?? "";
    texts.set(cell, bare.textContent.replace(/\s+/g, " ").trim() || label);
  }
  return texts.get(cell);
}

// main is what a cell says first: the figure without the small words beside it.
const main = (cell) => said(cell.querySelector(":scope > a, :scope > b, :scope > span > a") ?? cell);

class Grid {
  constructor(table) {
    this.table = table;
    this.name = table.dataset.table;
    this.head = table.tHead.rows[table.tHead.rows.length - 1];
    spreadOut(table.tFoot);
    this.first = new Map();
    const seen = new Map();
    for (const th of this.head.cells) {
      const base = slug(th.textContent) || "column";
      seen.set(base, (seen.get(base) ?? 0) + 1);
      th.dataset.column = seen.get(base) > 1 ? `${base}-${seen.get(base)}` : base;
    }
    this.columns = [...this.head.cells].map((th) => th.dataset.column);
    this.rows = [...table.tBodies].flatMap((body) => [...body.rows]);
    this.rows.forEach((row, i) => {
      this.first.set(row, i);
      if (this.isWide(row)) [...row.cells].forEach((cell, at) => (cell.dataset.column = this.columns[at]));
    });
    for (const row of table.tFoot?.rows ?? []) {
      [...row.cells].forEach((cell, at) => {
        cell.dataset.column = this.columns[at];
        cell.dataset.whole = said(cell);
      });
    }
    this.state = { sort: "", columns: null, filters: {} };
  }

  // isRecord tells rows of records from those that head a group.
  isRecord(row) {
    return this.isWide(row) && row.dataset.group === undefined;
  }

  isWide(row) {
    return row.cells.length === this.columns.length;
  }

  records() {
    return this.rows.filter((row) => this.isRecord(row));
  }

  cell(row, column) {
    return row.querySelector(`:scope > [data-column="${column}"]`);
  }

  title(column) {
    return said(this.cell(this.head, column)) || "mark";
  }

  shown() {
    return this.state.columns ?? this.columns;
  }

  // apply brings the table to its state.
  apply() {
    this.sort();
    this.filter();
    this.arrange();
    this.total();
    this.keep();
    this.table.dispatchEvent(new CustomEvent("arranged", { bubbles: true }));
  }

  sort() {
    const down = this.state.sort.startsWith("-");
    const column = this.state.sort.replace(/^-/, "");
    for (const th of this.head.cells) {
      if (th.querySelector("button.sort")) th.removeAttribute("aria-sort");
      if (th.dataset.column === column) th.setAttribute("aria-sort", down ? "descending" : "ascending");
    }
    const keys = new Map();
    if (column) this.records().forEach((row) => keys.set(row, sortKey(main(this.cell(row, column)))));
    for (const body of this.table.tBodies) {
      const rows = [...body.rows].sort((a, b) => this.first.get(a) - this.first.get(b));
      const runs = [[]];
      for (const row of rows) {
        if (this.isRecord(row)) runs.at(-1).push(row);
        else runs.push([row], []);
      }
      if (column)
        for (const run of runs)
          if (run.length > 1) run.sort((a, b) => compareKeys(keys.get(a), keys.get(b), down) || this.first.get(a) - this.first.get(b));
      body.append(...runs.flat());
    }
  }

  filter() {
    const asked = Object.entries(this.state.filters).filter(([column, want]) => want.trim() && this.columns.includes(column));
    for (const row of this.records()) {
      row.hidden = !asked.every(([column, want]) => {
        const cell = this.cell(row, column);
        return matches(/^[<>]|\.\./.test(want.trim()) ? main(cell) : said(cell), want);
      });
    }
    for (const body of this.table.tBodies) {
      let group = null;
      for (const row of body.rows) {
        if (!this.isRecord(row)) {
          group = row;
          row.hidden = asked.length > 0;
        } else if (!row.hidden && group) group.hidden = false;
      }
    }
  }

  arrange() {
    const shown = this.shown();
    const order = [...shown, ...this.columns.filter((c) => !shown.includes(c))];
    const rows = [...this.table.tHead.rows].slice(-2).filter((row) => row === this.head || row.dataset.filters !== undefined);
    for (const row of [...rows, ...this.rows.filter((x) => this.isWide(x)), ...(this.table.tFoot?.rows ?? [])]) {
      const cells = order.map((column) => this.cell(row, column));
      if (cells.some((cell, at) => cell !== row.cells[at])) row.append(...cells);
      cells.forEach((cell, at) => (cell.hidden = at >= shown.length));
    }
  }

  // total adds up what is shown where the total of all rows is their sum; other totals are of all rows, and say so.
  total() {
    const all = this.records();
    const left = all.filter((row) => !row.hidden);
    for (const row of this.table.tFoot?.rows ?? []) {
      for (const cell of row.cells) {
        const whole = sortKey(cell.dataset.whole);
        if (typeof whole !== "number") continue;
        const column = cell.dataset.column;
        const sum = (rows) => rows.reduce((n, r) => n + (Number(sortKey(main(this.cell(r, column)))) || 0), 0);
        const adds = Math.abs(sum(all) - whole) <= 0.005 * Math.max(1, all.length);
        cell.dataset.part = left.length < all.length ? (adds ? sum(left).toLocaleString("en", { maximumFractionDigits: 2 }) : "–") : "";
        cell.title = cell.dataset.part && !adds ? `${cell.dataset.whole} of all rows; it is no sum of them` : "";
      }
    }
  }

  // keep puts the state into the address, so that it can be passed on, and gone back to.
  keep() {
    const q = new URLSearchParams();
    if (this.state.sort) q.set("sort", this.state.sort);
    if (this.state.columns) q.set("show", this.state.columns.join(","));
    for (const [column, want] of Object.entries(this.state.filters)) if (want.trim()) q.set(`if-${column}`, want);
    const to = new URL(location.href);
    if (q.size) to.searchParams.set(`t-${this.name}`, q.toString());
    else to.searchParams.delete(`t-${this.name}`);
    if (to.href !== location.href) history.replaceState(history.state, "", to);
  }

  read() {
    const q = new URLSearchParams(new URL(location.href).searchParams.get(`t-${this.name}`) ?? "");
    const known = (column) => this.columns.includes(column.replace(/^-/, ""));
    const sort = q.get("sort") ?? "";
    const show = q
      .get("show")
      ?.split(",")
      .filter((c, i, list) => known(c) && list.indexOf(c) === i);
    this.state = { sort: known(sort) ? sort : "", columns: show?.length ? show : null, filters: {} };
    for (const [name, want] of q) if (name.startsWith("if-") && known(name.slice(3))) this.state.filters[name.slice(3)] = want;
    return q.size > 0;
  }

  // content is what is shown, as rows of texts.
  content() {
    const shown = this.shown();
    const line = (row) => shown.map((column) => said(this.cell(row, column)));
    return {
      heads: shown.map((column) => this.title(column)),
      rows: [...this.table.tBodies]
        .flatMap((body) => [...body.rows])
        .filter((row) => !row.hidden && this.isRecord(row))
        .map(line),
    };
  }
}

// spreadOut gives each column of a foot a cell of its own, so that columns can move.
function spreadOut(foot) {
  for (const row of foot?.rows ?? []) {
    for (const cell of [...row.cells]) {
      const more = cell.colSpan - 1;
      cell.colSpan = 1;
      for (let i = 0; i < more; i++) cell.after(document.createElement("td"));
    }
  }
}

function attachHeads(grid) {
  for (const th of grid.head.cells) {
    if (!th.textContent.trim() || th.querySelector("a, button")) continue; // some are sorted by the server
    const button = document.createElement("button");
    button.type = "button";
    button.className = "sort";
    button.append(...th.childNodes);
    th.append(button);
    button.addEventListener("click", () => {
      const up = grid.state.sort === th.dataset.column;
      grid.state.sort = up ? `-${th.dataset.column}` : th.dataset.column;
      grid.apply();
    });
  }
}

function attach(table) {
  const head = table.tHead?.rows[table.tHead.rows.length - 1];
  if (!head || table.dataset.attached || [...head.cells].some((th) => th.colSpan > 1 || th.rowSpan > 1)) return;
  table.dataset.attached = "";
  const grid = new Grid(table);
  attachHeads(grid);
  attachTools(grid, orderable);
  if (grid.read()) grid.apply();
}

// carry has forms that send a filter of the server keep the state of tables.
function carry(event) {
  const form = event.target;
  if (form.method !== "get" || new URL(form.action).pathname !== location.pathname) return;
  for (const [name, value] of new URL(location.href).searchParams) {
    if (!name.startsWith("t-") || form.elements.namedItem(name)) continue;
    const input = document.createElement("input");
    Object.assign(input, { type: "hidden", name, value });
    form.append(input);
  }
}

export function attachTables() {
  document.querySelectorAll("table[data-table]").forEach(attach);
  document.addEventListener("submit", carry);
}
