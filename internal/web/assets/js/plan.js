// Editing a plan: bars and their ends are dragged, links drawn from bar to bar, cells typed; the network answers at once. What was
// done is a list of changes that undo takes back; nothing is written before it is saved with a reason.
import { safe } from "./bars.js";
import { toISO } from "./scale.js";
import { Timeline } from "./timeline.js";

const MOST = 250;
const TYPES = {
  start: "date",
  finish: "date",
  actual_start: "date",
  actual_finish: "date",
  not_before: "date",
  not_after: "date",
  duration: "number",
  remaining: "number",
  percent_complete: "number",
};

class Plan {
  constructor(host) {
    this.host = host;
    this.box = document.querySelector("[data-plan-edit]");
    this.ops = [];
    this.undone = [];
    this.code = host.dataset.code;
    this.driven = host.dataset.driven === "true";
    this.edge = null;
    this.timeline = new Timeline(host, {
      plan: true,
      height: Math.max(300, Math.min(460, innerHeight * 0.5)),
      grab: (event, row) => this.grab(event, row),
      key: (event, row) => this.key(event, row),
      overlay: (row, y) => this.overlay(row, y),
      paint: () => this.rubber ?? "",
    });
    this.box.hidden = false;
    this.listen();
  }

  listen() {
    const save = this.box.querySelector("[data-plan-save]");
    save.addEventListener("submit", (event) => {
      event.preventDefault();
      this.save(save);
    });
    this.box.querySelector("[data-plan-undo]").addEventListener("click", () => this.undo());
    this.box.querySelector("[data-plan-redo]").addEventListener("click", () => this.redo());
    this.box.querySelector("[data-plan-add]").addEventListener("submit", (event) => {
      event.preventDefault();
      const f = event.target;
      this.act({ op: "add", code: f.code.value.trim(), field: f.kind.value, value: f.name.value.trim() }).then((ok) => ok && f.reset());
    });
    this.box.querySelector("[data-plan-find]").addEventListener("input", () => this.table && this.fill(this.table));
    const rows = this.box.querySelector("[data-plan-rows]");
    rows.addEventListener("change", (event) => this.typed(event.target));
    rows.addEventListener("keydown", (event) => this.cellKey(event));
    rows.addEventListener("click", (event) => {
      const gone = event.target.closest("[data-remove]");
      if (gone) this.act({ op: "remove", code: gone.dataset.remove });
    });
    document.addEventListener("keydown", (event) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z" || event.target.closest("[data-plan-save]")) return;
      event.preventDefault();
      if (event.shiftKey) this.redo();
      else this.undo();
    });
    addEventListener("beforeunload", (event) => {
      if (this.ops.length > 0 && !this.saved) event.preventDefault();
    });
    this.timeline.body.addEventListener("pointermove", (event) => {
      if (!event.buttons) this.timeline.body.style.cursor = this.zone(event, this.timeline.rowAt(event))?.cursor ?? "";
    });
  }

  async ask(address, body) {
    const lost = { error: "That did not arrive. What you changed is still here; try again." };
    const answer = await fetch(address + location.search, {
      method: "POST",
      headers: { "Content-Type": "application/json", "X-Csrf-Token": document.body.dataset.token },
      body: JSON.stringify(body),
    }).catch(() => null);
    if (!answer) return { ok: false, data: lost };
    const data = await answer.json().catch(() => lost);
    return { ok: answer.ok, data };
  }

  // inTurn has changes wait for those before them.
  inTurn(step) {
    this.last = (this.last ?? Promise.resolve()).then(step, step);
    return this.last;
  }

  // act tries one more change; one that cannot be done is said and not kept.
  act(op) {
    return this.inTurn(async () => {
      const before = this.ops;
      this.ops = [...before, op];
      const ok = await this.refresh();
      if (ok) this.undone = [];
      else this.ops = before;
      this.mark();
      return ok;
    });
  }

  undo() {
    return this.inTurn(async () => {
      if (this.ops.length === 0) return;
      this.undone.push(this.ops.at(-1));
      this.ops = this.ops.slice(0, -1);
      await this.refresh();
    });
  }

  redo() {
    return this.inTurn(async () => {
      const op = this.undone.pop();
      if (!op) return;
      this.ops = [...this.ops, op];
      await this.refresh();
    });
  }

  async refresh() {
    const result = await this.ask(this.host.dataset.plan, { ops: this.ops, base: this.base });
    if (!result.ok) {
      this.fail(result.data);
      this.timeline.draw();
      return false;
    }
    this.show(result.data);
    return true;
  }

  show(data) {
    const first = !this.timeline.data;
    this.base ??= data.base; // what this page shows, whatever others save meanwhile
    this.was ??= new Map(data.table.map((row) => [row.code, row]));
    this.timeline.take({ ...data.days, code: this.code, rows: data.rows }, !first);
    if (first) this.begin();
    this.moved = new Map(data.shifts.filter((s) => s.own).map((s) => [s.code, s]));
    this.fill(data.table);
    if (first) this.scrollTable();
    this.answer(data);
    this.mark();
    this.host.dataset.ready = "yes";
  }

  // scrollTable brings what is under way under the head of the table.
  scrollTable() {
    const row = this.timeline.rows[this.timeline.active];
    const tr = row && this.box.querySelector(`[data-code="${CSS.escape(row.code)}"]`)?.closest("tr");
    if (tr) this.box.querySelector(".plan-scroll").scrollTop = tr.offsetTop - tr.offsetHeight * 2;
  }

  // begin shows what is under way rather than what is over.
  begin() {
    const row = this.timeline.rows.find((r) => r.kind !== "summary" && r.bar[4] < 1);
    if (!row) return;
    this.timeline.active = this.timeline.rows.indexOf(row);
    this.timeline.scroll.scrollTop = row.y - 90;
  }

  mark() {
    for (const [name, off] of [
      ["[data-plan-undo]", this.ops.length === 0],
      ["[data-plan-redo]", this.undone.length === 0],
      ["[data-plan-save] .btn-primary", this.ops.length === 0],
    ]) {
      const button = this.box.querySelector(name);
      if (off && document.activeElement === button) this.timeline.names.focus(); // a disabled button would swallow the keys
      button.disabled = off;
    }
  }

  answer(data) {
    const box = this.box.querySelector("[data-plan-answer]");
    if (this.ops.length === 0) {
      box.innerHTML =
        '<p class="soft">Drag a bar to move it, its ends to stretch it, its dark part to say how far it is, and the ring behind it onto another bar to link them; or type below. Nothing is written until you save.</p>';
      return;
    }
    const rows = [...data.shifts]
      .sort((a, b) => a.own - b.own || b.event - a.event)
      .slice(0, 60)
      .map(
        (s) =>
          `<tr><td>${safe(s.project)} ${safe(s.code)} ${safe(s.name)}</td><td class="num">${s.from}</td><td class="num">${s.to}</td><td class="num">${s.days > 0 ? "+" : "−"}${Math.abs(s.days)}</td><td>${safe(s.through)}</td></tr>`,
      )
      .join("");
    box.innerHTML = `<p><b>${this.ops.length} change${this.ops.length === 1 ? "" : "s"}, not saved.</b> ${safe(data.sentence)}</p>${rows ? `<div class="scroll plan-moves"><table class="dense"><thead><tr><th scope="col">Moves</th><th scope="col" class="num">From</th><th scope="col" class="num">To</th><th scope="col" class="num">Days</th><th scope="col">Through</th></tr></thead><tbody>${rows}</tbody></table></div>` : ""}`;
  }

  fail(data) {
    const box = this.box.querySelector("[data-plan-answer]");
    box.innerHTML = `<p class="problem" role="alert">${safe(data.error ?? "That could not be done.")}</p>`;
    const cell =
      data.code && this.box.querySelector(`[data-code="${CSS.escape(data.code)}"][data-field="${CSS.escape(data.field ?? "")}"]`);
    if (cell) {
      cell.setAttribute("aria-invalid", "true");
      cell.focus();
    }
  }

  fields() {
    return [...this.box.querySelectorAll("table.plan th[data-field]")].map((th) => th.dataset.field);
  }

  // fill shows the rows that the search takes, and no more than a page can hold.
  fill(table) {
    this.table = table;
    const search = (this.box.querySelector("[data-plan-find]").value ?? "").trim().toLowerCase();
    const all = table.filter((row) => !search || `${row.code} ${row.name}`.toLowerCase().includes(search));
    table = all.slice(0, MOST);
    this.box.querySelector("[data-plan-more]").textContent =
      all.length > MOST ? `${MOST} of ${all.length} rows; search for the others` : "";
    const fields = this.fields();
    const focused = document.activeElement?.closest("[data-plan-rows] input");
    const at = focused && [focused.dataset.code, focused.dataset.field];
    const body = this.box.querySelector("[data-plan-rows]");
    body.innerHTML = table.map((row) => `<tr>${fields.map((f) => this.cell(row, f)).join("")}</tr>`).join("");
    if (at) body.querySelector(`[data-code="${CSS.escape(at[0])}"][data-field="${CSS.escape(at[1])}"]`)?.focus();
  }

  cell(row, field) {
    if (field === "code")
      return `<td><span class="fixed">${safe(row.code)}</span> <button type="button" class="quiet" data-remove="${safe(row.code)}" aria-label="Remove ${safe(row.code)}">×</button></td>`;
    const value = row[field] ?? "";
    if (field.startsWith("money_")) return `<td class="num"><span class="fixed">${safe(value)}</span></td>`;
    if (row.kind === "summary" && field !== "name") return `<td><span class="fixed soft">${safe(value)}</span></td>`;
    const was = this.was.get(row.code)?.[field] ?? "";
    const type = TYPES[field] === "date" ? "date" : "text";
    return `<td><input type="${type}" data-code="${safe(row.code)}" data-field="${field}" value="${safe(value)}" aria-label="${safe(row.code)} ${field.replaceAll("_", " ")}" class="${value === was ? "" : "changed"} f-${field}" autocomplete="off"${TYPES[field] === "number" ? ' inputmode="decimal"' : ""}></td>`;
  }

  typed(input) {
    if (!input.dataset.field || input.value === input.defaultValue || input.value === input.dataset.tried) return;
    input.dataset.tried = input.value; // leaving the cell must not ask the same again
    const { code, field } = input.dataset;
    this.act({ op: "set", code, field, value: input.value });
  }

  cellKey(event) {
    const input = event.target.closest("input");
    if (!input) return;
    const step = { Enter: 1, ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (event.key === "Escape") {
      input.value = input.defaultValue;
      return;
    }
    if (!step || (input.type === "date" && event.key !== "Enter")) return;
    event.preventDefault();
    const all = [...this.box.querySelectorAll(`[data-plan-rows] input[data-field="${input.dataset.field}"]`)];
    const next = all[all.indexOf(input) + (event.shiftKey ? -step : step)];
    (next ?? input).focus();
    if (!next) this.typed(input);
  }

  // zone says what of a row the pointer is on: the bar, its end, or the ring from which a link is drawn.
  zone(event, row) {
    if (!row || row.type !== "activity" || row.kind === "summary") return null;
    const x = event.clientX - this.timeline.body.getBoundingClientRect().left;
    const [start, finish] = row.bar;
    if (!finish) return null;
    const end = this.timeline.scale.x(finish + 1);
    const begin = row.kind === "milestone" ? end : this.timeline.scale.x(start);
    if (x > end + (row.kind === "milestone" ? 15 : 3) && x < end + (row.kind === "milestone" ? 26 : 15))
      return { what: "link", cursor: "crosshair" };
    if (row.bar[4] >= 1) return null;
    if (row.kind !== "milestone") {
      const begun = Boolean(this.cellOf(row.code, "actual_start"));
      const done = begin + (end - begin) * row.bar[4];
      if (Math.abs(x - end) <= 4) return { what: "finish", cursor: "ew-resize" };
      if (begun && Math.abs(x - done) <= 4) return { what: "progress", cursor: "col-resize" };
      if (!begun && end - begin > 14 && Math.abs(x - begin) <= 4) return { what: "begin", cursor: "ew-resize" };
      if (begun) return x >= begin && x <= end ? { what: "progress", cursor: "col-resize" } : null; // what has begun stays where it began
    }
    if (x >= begin - 3 && x <= end + (row.kind === "milestone" ? 14 : 0)) return { what: "shift", cursor: "grab" };
    return null;
  }

  grab(event, row) {
    const zone = this.zone(event, row);
    if (!zone) return false;
    const body = this.timeline.body;
    const { scale } = this.timeline;
    const from = event.clientX;
    const box = body.getBoundingClientRect();
    body.setPointerCapture(event.pointerId);
    let days = 0;
    const move = (e) => {
      days = Math.round((e.clientX - from) / scale.perDay);
      if (zone.what === "link") {
        const y = row.y - this.timeline.scroll.scrollTop + row.h / 2;
        this.rubber = `<line class="tie strain" x1="${scale.x(row.bar[1] + 1) + 8}" y1="${y}" x2="${e.clientX - box.left}" y2="${e.clientY - box.top}"/>`;
      } else {
        this.drag = { key: row.key, what: zone.what, days };
      }
      this.timeline.draw();
    };
    const end = (e) => {
      body.removeEventListener("pointermove", move);
      this.rubber = null;
      this.drag = null;
      this.timeline.draw();
      if (e.type === "pointercancel") return;
      if (zone.what === "link") {
        const to = this.timeline.rowAt(e);
        if (to && to.key !== row.key && to.type === "activity") this.act({ op: "link", code: to.code, value: row.code });
      } else if (days !== 0) {
        this.act(this.moved_(row, zone.what, days));
      }
    };
    body.addEventListener("pointermove", move);
    body.addEventListener("pointerup", end, { once: true });
    body.addEventListener("pointercancel", end, { once: true });
    event.preventDefault();
    return true;
  }

  cellOf(code, field) {
    return this.table?.find((r) => r.code === code)?.[field];
  }

  // moved_ is the change that a drag by some days stands for.
  moved_(row, what, days) {
    const [start, finish, , , done] = row.bar;
    if (what === "progress") {
      const share = done + days / (finish + 1 - start);
      return { op: "set", code: row.code, field: "percent_complete", value: String(Math.round(100 * Math.min(1, Math.max(0, share)))) };
    }
    if (what === "begin") return { op: "begin", code: row.code, value: toISO(start + days) };
    const day = what === "finish" || row.kind === "milestone" ? row.bar[1] : row.bar[0];
    return { op: what === "finish" || row.kind === "milestone" ? "finish" : "shift", code: row.code, value: toISO(day + days) };
  }

  // Comma and full stop move the activity by a working day; with the shift key they stretch it.
  key(event, row) {
    const step = { ",": -1, ".": 1, "<": -1, ">": 1, ";": -1, ":": 1 }[event.key];
    if (!step || !row || row.type !== "activity" || row.kind === "summary" || row.bar[4] >= 1) return false;
    let days = step;
    const what = event.shiftKey ? "finish" : "shift";
    const day = what === "finish" || row.kind === "milestone" ? row.bar[1] : row.bar[0];
    while (!this.timeline.worked(day + days)) days += step;
    this.act(this.moved_(row, what, days));
    return true;
  }

  overlay(row, y) {
    let out = "";
    const { scale } = this.timeline;
    if (row.type === "activity" && row.kind !== "summary" && row.bar[1]) {
      const x = scale.x(row.bar[1] + 1) + (row.kind === "milestone" ? 20 : 9);
      out += `<circle class="ring" cx="${x.toFixed(1)}" cy="${y + row.h / 2}" r="3.5"/>`;
    }
    if (this.moved?.has(row.code) && row.bar[1]) out += `<circle class="moved" cx="4" cy="${y + row.h / 2}" r="3"/>`;
    if (this.drag?.key === row.key) {
      const [start, finish] = row.bar;
      const by = this.drag.days;
      const { what } = this.drag;
      const x1 = scale.x((row.kind === "milestone" ? finish : start) + (what === "finish" || what === "progress" ? 0 : by));
      const x2 =
        what === "progress" ? scale.x(start + (finish + 1 - start) * row.bar[4] + by) : scale.x(finish + 1 + (what === "begin" ? 0 : by));
      const day = what === "finish" || row.kind === "milestone" ? finish + by : start + by;
      out += `<rect class="dragged" x="${x1}" y="${y + 3}" width="${Math.max(3, x2 - x1)}" height="${row.h - 7}"/><text class="label" x="${x2 + 5}" y="${y + row.h / 2 + 4}">${what === "progress" ? `${this.moved_(row, what, by).value} %` : toISO(day)}</text>`;
    }
    return out;
  }

  async save(form) {
    const button = form.querySelector(".btn-primary");
    button.disabled = true;
    const result = await this.ask(this.host.dataset.save, {
      ops: this.ops,
      base: this.base,
      reason: form.reason.value,
      carry: form.carry?.checked ?? false,
    });
    button.disabled = false;
    if (!result.ok) {
      this.fail(result.data);
      if (result.data.field === "reason") form.reason.focus();
      return;
    }
    this.saved = true;
    location.assign(result.data.to);
  }
}

export async function attachPlan() {
  const host = document.querySelector("[data-plan]");
  if (!host) return;
  const plan = new Plan(host);
  host.plan = plan;
  await plan.refresh();
}
