// Editing a plan: what is dragged and typed is answered by the network at once. What was
// done is a list of changes that undo takes back; nothing is written before it is saved with a reason.
import { html, nothing, render } from "lit-html";
import { at } from "./base.js";
import { PlanDrag } from "./plan-drag.js";
import { moves, rows } from "./plan-table.js";
import { Timeline } from "./timeline.js";

const MOST = 250;
class Plan extends PlanDrag {
  constructor(host) {
    super();
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
    const { timeline } = this;
    if (document.activeElement === timeline.names && !timeline.tip.hidden) timeline.tell(timeline.rows[timeline.active]);
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

  say(what) {
    render(what, this.box.querySelector("[data-plan-answer]"));
  }

  answer(data) {
    if (this.ops.length === 0) {
      return this.say(
        html`<p class="soft">
          Drag a bar to move it, its ends to stretch it, its dark part to say how far it is, and the ring behind it onto another bar to link
          them; or type below. Nothing is written until you save.
        </p>`,
      );
    }
    const n = this.ops.length;
    const shifts = [...data.shifts].sort((a, b) => a.own - b.own || b.event - a.event).slice(0, 60);
    this.say(
      html`<p><b>${n} change${n === 1 ? "" : "s"}, not saved.</b> ${data.sentence}</p>
        ${shifts.length > 0 ? moves(shifts) : nothing}`,
    );
  }

  fail(data) {
    this.say(html`<p class="problem" role="alert">${data.error ?? "That could not be done."}</p>`);
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
    const typing = this.typing();
    this.tried = null;
    render(rows(table, fields, this.was, typing), this.box.querySelector("[data-plan-rows]"));
    for (const wrong of this.box.querySelectorAll("[data-plan-rows] [aria-invalid]")) wrong.removeAttribute("aria-invalid");
  }

  // typing is the field in which somebody writes while an answer comes, which leaves it as it is.
  typing() {
    const input = document.activeElement?.closest("[data-plan-rows] input");
    return input && input.value !== input.defaultValue && this.tried?.input !== input ? { ...input.dataset, value: input.value } : null;
  }

  typed(input) {
    const { code, field } = input.dataset;
    const { value } = input;
    const again = this.tried?.input === input && this.tried.value === value; // leaving the cell must not ask the same again
    if (!field || value === input.defaultValue || again) return;
    this.tried = { input, value };
    this.act({ op: "set", code, field, value });
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
    location.assign(at(result.data.to));
  }
}

export async function attachPlan() {
  const host = document.querySelector("[data-plan]");
  if (!host) return;
  const plan = new Plan(host);
  host.plan = plan;
  await plan.refresh();
}
