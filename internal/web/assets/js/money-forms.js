// Forms beside the grid of money: an amount spread over a span, a line more, and saving with a reason.
import { html } from "lit-html";
import { plain } from "./amount.js";
import { attachDaysIn, dayOf } from "./days.js";
import { fill } from "./draw.js";

export async function spread(money) {
  const s = money.shown[money.at.row];
  if (!s?.row?.edit) return money.tell("Choose a line first.", true);
  const r = s.row;
  const { x1, x2 } = money.range();
  const i1 = Math.max(money.locked, money.cols[x1].from);
  const i2 = Math.max(i1, x2 > x1 ? money.cols[x2].to - 1 : Math.min(money.months - 1, i1 + 11));
  const days = (i, end) => {
    const m = money.month(i);
    return end ? new Date(Date.UTC(m.y, m.m + 1, 0)).toISOString().slice(0, 10) : m.iso + "-01";
  };
  let total = 0;
  for (let i = i1; i <= i2; i++) total += r.own[i];
  const dialog = document.createElement("dialog");
  dialog.setAttribute("aria-label", "Spread an amount");
  fill(
    dialog,
    html`<form method="dialog" class="asking">
      <h2>Spread an amount over ${r.code}</h2>
      <label
        >Amount, ${r.currency} <input class="form-control" name="amount" required value=${plain(total, money.decimals[r.currency])}
      /></label>
      <label>From <input class="form-control" type="date" name="from" required value=${days(i1, false)} /></label>
      <label>to <input class="form-control" type="date" name="to" required value=${days(i2, true)} /></label>
      <label>
        by
        <select class="form-select" name="profile">
          <option>even</option>
          <option>early</option>
          <option>late</option>
          <option>bell</option>
        </select>
      </label>
      <p class="tone-act" role="alert"></p>
      <button class="btn btn-primary" value="spread">Spread</button>
      <button class="btn btn-outline-primary" value="" formnovalidate>Leave it</button>
    </form>`,
  );
  attachDaysIn(dialog);
  document.body.append(dialog);
  const form = dialog.querySelector("form");
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
    const answer = await fetch(`${money.host.dataset.save}/spread.json?${q}`, { headers: { Accept: "application/json" } }).catch(
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
    const [fy, fm] = money.first.split("-").map(Number);
    const [y, m] = data.first.split("-").map(Number);
    const at = (y - fy) * 12 + (m - fm);
    if (at < money.locked) {
      form.querySelector("[role=alert]").textContent = `The first open month is ${money.month(money.locked).name}.`;
      return;
    }
    if (at + data.parts.length > money.months && !money.widen(at + data.parts.length - money.months)) {
      form.querySelector("[role=alert]").textContent = money.told;
      return;
    }
    const changes = data.parts.map((v, k) => [r, at + k, v]);
    for (let i = i1; i <= i2; i++) if (i < at || i >= at + data.parts.length) changes.push([r, i, 0]);
    dialog.close();
    money.set(changes);
  });
  dialog.addEventListener("close", () => {
    dialog.remove();
    money.table.focus({ preventScroll: true });
  });
  dialog.showModal();
}

export function addLine(money, form) {
  const code = form.code.value;
  const currency = form.currency.value.trim().toUpperCase() || money.own_ || money.currency;
  if (!(currency in money.decimals)) return money.tell(`There are no rates of “${currency}”, so its amounts could not be added up.`, true);
  const row = {
    id: money.rows.length,
    kind: money.kind,
    code,
    activity: form.activity.value.trim(),
    centre: form.centre.value.trim(),
    currency,
    change: "",
    supplier: "",
    note: form.note.value.trim(),
    edit: true,
    own: Array(money.months).fill(0),
    amounts: Array(money.months).fill(0),
  };
  const same = money.rows.find((r) => r.edit && ["code", "activity", "centre", "currency", "change", "note"].every((k) => r[k] === row[k]));
  if (!same) money.rows.push(row);
  money.closed.clear();
  money.plan();
  money.at = {
    row: Math.max(
      0,
      money.shown.findIndex((s) => s.row === (same ?? row)),
    ),
    col: Math.max(
      0,
      money.cols.findIndex((c) => c.from >= money.locked),
    ),
  };
  money.anchor = null;
  money.reveal();
  money.draw();
  money.select();
  money.table.focus({ preventScroll: true });
  if (same) money.tell("That line is there already; a note, an activity or a cost centre tells two lines of one code apart.");
}

export async function save(money, form) {
  if (!money.leave(true)) return;
  const cells = [];
  const ids = [];
  const text = (v, c) => (v === 0 ? "" : plain(v, money.decimals[c]));
  for (const [id, was] of money.was) {
    const [k, i] = id.split(":").map(Number);
    const r = money.rows[k];
    cells.push({
      code: r.code,
      activity: r.activity,
      centre: r.centre,
      currency: r.currency,
      change: r.change,
      note: r.note,
      month: money.month(i).iso,
      old: text(was, r.currency),
      new: text(r.own[i], r.currency),
    });
    ids.push(id);
  }
  if (cells.length === 0) return money.tell("Nothing was changed, so there is nothing to save.", true);
  money.tell("Saving…");
  const answer = await fetch(money.host.dataset.save + location.search, {
    method: "POST",
    headers: { "Content-Type": "application/json", "X-Csrf-Token": document.body.dataset.token },
    body: JSON.stringify({ kind: money.kind, reason: form.reason.value, cells }),
  }).catch(() => null);
  const data = await answer?.json().catch(() => null);
  if (answer?.ok && data) {
    money.saved = true;
    const to = new URL(location.href);
    location.href = to;
    return;
  }
  money.faults.clear();
  for (const c of data?.cells ?? []) if (ids[c.index]) money.faults.set(ids[c.index], c.says);
  money.tell(data?.error ?? "That did not arrive. What you changed is still here; try again.", true);
  money.draw();
}
