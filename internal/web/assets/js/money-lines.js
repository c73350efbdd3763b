// The lines of the grid of money, its head and its foot, as templates over what the grid holds.
import { html, nothing } from "lit-html";
import { format } from "./amount.js";

export const options = (list) => list.map(([v, t, on]) => html`<option value=${v} ?selected=${on}>${t}</option>`);

const pick = (name, label, list) =>
  html`<label
    >${label}
    <select class="form-select" data-pick=${name}>
      ${options(list)}
    </select></label
  >`;

const acts = [
  ["fill", "Fill right"],
  ["spread", "Spread…"],
  ["later", "Copy a year on"],
  ["longer", "Show a year more"],
].map(([act, text]) => html`<button type="button" class="quiet" data-act=${act}>${text}</button>`);

// room is as wide as so many columns that are not drawn.
const room = (n) => (n > 0 ? html`<td colspan=${n} class="room"></td>` : nothing);

const amount = (v, places, x) => html`<td class="num" data-x=${x ?? nothing}>${format(v, places)}</td>`;

// tools stand above the grid: how months are taken together, from which to which, and what else can be done.
export function tools(m) {
  const months = Array.from({ length: m.months }, (_, i) => m.month(i).name);
  const [from, to] = m.span;
  return html`<span class="group-by"></span> ${pick(
      "step",
      "by",
      ["month", "quarter", "year"].map((t) => [t, t, t === "month"]),
    )}
    ${pick(
      "from",
      "from",
      months.map((t, i) => [i, t, i === from]),
    )}
    ${pick(
      "to",
      "to",
      months.map((t, i) => [i + 1, t, i + 1 === to]),
    )}
    ${m.may ? acts : nothing}`;
}

export function head(m) {
  return html`<tr>
    <th scope="col" class="line">Line</th>
    ${m.cols.map((c) => html`<th scope="col" class="num${c.to <= m.locked ? " locked" : ""}">${c.name}</th>`)}
    <th scope="col" class="num sum">In all, ${m.currency}</th>
  </tr>`;
}

// lines are those in sight, with room for the others above and below.
export function lines(m, top, end) {
  const pad = (n) =>
    n > 0
      ? html`<tr class="pad" aria-hidden="true">
          <td colspan=${m.cols.length + 2} data-pad=${n}></td>
        </tr>`
      : nothing;
  return [pad(top), m.shown.slice(top, end).map((s, i) => line(m, s, top + i)), pad(m.shown.length - end)];
}

// across draws a row's cells of the columns in sight, and room for the others.
function across(m, cell) {
  const { left, right } = m.view;
  return [room(left), m.cols.slice(left, right).map((c, i) => cell(c, left + i)), room(m.cols.length - right)];
}

function line(m, s, y) {
  const depth = s.depth > 0 ? Math.min(s.depth, 5) : nothing;
  return s.group ? groupLine(m, s.group, depth, y) : ownLine(m, s.row, depth, y);
}

function groupLine(m, group, depth, y) {
  const closed = m.closed.has(group.path);
  const places = m.decimals[m.currency];
  return html`<tr class="group" data-y=${y}>
    <th scope="row" data-depth=${depth}>
      <button type="button" class="fold" data-fold=${group.path} aria-expanded=${!closed}>${closed ? "▸" : "▾"} ${group.name}</button>
    </th>
    ${across(m, (c, x) => amount(m.sum(group.rows, c.from, c.to), places, x))}
    <td class="num sum">${format(m.sum(group.rows, 0, m.months), places)}</td>
  </tr>`;
}

function ownLine(m, r, depth, y) {
  const says = [
    m.show === "all" ? r.kind : "",
    m.groups.includes("activity") ? "" : r.activity,
    r.centre,
    r.currency === m.currency ? "" : r.currency,
    r.change && `change ${r.change}`,
    r.supplier,
    r.note,
  ]
    .filter(Boolean)
    .join(" · ");
  const name = m.groups.includes("code") ? "" : `${r.code} ${m.byCode[r.code]?.name ?? ""}`;
  const spread = r.spread ? "spread over a span; a change writes it month by month" : "";
  return html`<tr data-y=${y}>
    <th scope="row" data-depth=${depth} title=${[name, says, spread, r.problem].filter(Boolean).join(" · ")}>
      ${name} <small>${says}</small>
    </th>
    ${across(m, (c, x) => ownCell(m, r, c, x))}
    <td class="num sum">
      ${r.problem ? html`<span class="tone-act" title=${r.problem}>–</span>` : format(m.sum([r], 0, m.months), m.decimals[m.currency])}
    </td>
  </tr>`;
}

function ownCell(m, r, c, x) {
  let v = 0;
  for (let i = c.from; i < c.to; i++) v += m.own(r, i);
  const places = m.decimals[r.currency];
  if (m.step !== "month") return html`<td class="num fixed" data-x=${x}>${format(v, places)}</td>`;
  const id = `${r.id}:${c.from}`;
  const fault = m.faults.get(id);
  const changed = m.was.has(id);
  const cls = ["num", changed && "changed", fault !== undefined && "fault", !m.open(r, c.from) && "fixed"].filter(Boolean).join(" ");
  const why = fault ?? (changed ? `was ${format(m.was.get(id), places) || "empty"}` : "");
  return html`<td class=${cls} data-x=${x} title=${why || nothing} aria-invalid=${fault === undefined ? nothing : "true"}>
    ${format(v, places)}
  </td>`;
}

export function foot(m) {
  const places = m.decimals[m.currency];
  if (m.show === "all") {
    // budget, actual cost and forecast together are no figure
    return html`<tr>
      <th scope="row">Kinds do not add up</th>
      <td colspan=${m.cols.length}></td>
      <td class="sum"></td>
    </tr>`;
  }
  return html`<tr>
    <th scope="row">Total, ${m.currency}</th>
    ${across(m, (c) => amount(m.sum(m.rows, c.from, c.to), places))}
    <td class="num sum" data-total>${format(m.sum(m.rows, 0, m.months), places)}</td>
  </tr>`;
}
