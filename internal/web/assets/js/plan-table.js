// The table of a plan that is being changed, and that of what moves through it, as templates.
import { html, nothing } from "lit-html";
import { live } from "lit-html/directives/live.js";
import { repeat } from "lit-html/directives/repeat.js";

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

// moves is the table of what moves through a change.
export function moves(shifts) {
  return html`<div class="scroll plan-moves">
    <table class="dense">
      <thead>
        <tr>
          <th scope="col">Moves</th>
          <th scope="col" class="num">From</th>
          <th scope="col" class="num">To</th>
          <th scope="col" class="num">Days</th>
          <th scope="col">Through</th>
        </tr>
      </thead>
      <tbody>
        ${shifts.map(
          (s) =>
            html`<tr>
              <td>${s.project} ${s.code} ${s.name}</td>
              <td class="num">${s.from}</td>
              <td class="num">${s.to}</td>
              <td class="num">${s.days > 0 ? "+" : "−"}${Math.abs(s.days)}</td>
              <td>${s.through}</td>
            </tr>`,
        )}
      </tbody>
    </table>
  </div>`;
}

// rows are the activities as fields; was holds them by code as the page began, typing what somebody is about to write.
export function rows(table, fields, was, typing) {
  return repeat(
    table,
    (row) => row.code,
    (row) =>
      html`<tr>
        ${fields.map((f) => cell(row, f, was.get(row.code), typing))}
      </tr>`,
  );
}

// cell is one field of an activity; one that differs from what the page began with is marked.
function cell(row, field, before, typing) {
  if (field === "code")
    return html`<td>
      <span class="fixed">${row.code}</span>
      <button type="button" class="quiet" data-remove=${row.code} aria-label="Remove ${row.code}">×</button>
    </td>`;
  const value = row[field] ?? "";
  if (field.startsWith("money_")) return html`<td class="num"><span class="fixed">${value}</span></td>`;
  if (row.kind === "summary" && field !== "name") return html`<td><span class="fixed soft">${value}</span></td>`;
  const was = before?.[field] ?? "";
  const own = typing?.code === row.code && typing.field === field;
  return html`<td>
    <input
      type=${TYPES[field] === "date" ? "date" : "text"}
      class="${String(value) === String(was) ? "" : "changed"} f-${field}"
      value=${value}
      .value=${live(own ? typing.value : String(value))}
      data-code=${row.code}
      data-field=${field}
      aria-label="${row.code} ${field.replaceAll("_", " ")}"
      autocomplete="off"
      inputmode=${TYPES[field] === "number" ? "decimal" : nothing}
    />
  </td>`;
}
