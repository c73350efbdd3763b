// A table that is typed in: arrows and Enter move between cells, changed cells are marked until saved, cells copied from a
// spreadsheet are pasted over several, and leaving with changes asks once.
function cells(row) {
  return [...row.querySelectorAll("td > input:not([type=hidden]), td > .day-field > input[data-day], td > select, td > .fixed")];
}

function move(field, down, across) {
  const row = field.closest("tr");
  const rows = [...row.parentElement.rows];
  const at = cells(row).indexOf(field);
  const target = cells(rows[rows.indexOf(row) + down] ?? row)[at + across];
  if (target?.focus) target.focus();
}

function mark(field) {
  const was = field.tagName === "SELECT" ? ([...field.options].find((o) => o.defaultSelected)?.value ?? "") : field.defaultValue;
  field.classList.toggle("changed", field.value !== was);
}

function paste(event) {
  const text = event.clipboardData.getData("text/plain");
  const field = event.target;
  if (!field.closest("table") || !/[\t\n]/.test(text.trimEnd())) return;
  event.preventDefault();
  const rows = [...field.closest("tbody").rows];
  const from = rows.indexOf(field.closest("tr"));
  const at = cells(rows[from]).indexOf(field);
  text
    .trimEnd()
    .split(/\r?\n/)
    .forEach((line, i) => {
      if (!rows[from + i]) return;
      line.split("\t").forEach((value, j) => {
        const cell = cells(rows[from + i])[at + j];
        if (!cell || cell.value === undefined) return;
        cell.value = value.trim();
        cell.dispatchEvent(new Event("change"));
        mark(cell);
      });
    });
}

export function attachSheet() {
  const form = document.querySelector("form[data-sheet]");
  if (!form) return;
  let saving = false;
  const state = form.querySelector("[data-sheet-state]");
  const count = () => {
    const n = form.querySelectorAll(".changed").length;
    state.textContent = n === 0 ? "" : n === 1 ? "1 cell changed, not saved yet" : `${n} cells changed, not saved yet`;
  };
  form.addEventListener("input", (event) => {
    mark(event.target);
    count();
  });
  form.addEventListener("paste", (event) => {
    paste(event);
    count();
  });
  form.addEventListener("keydown", (event) => {
    const field = event.target;
    if (!field.closest("table.sheet") || event.altKey || event.ctrlKey || event.metaKey) return;
    if (
      event.key === "Enter" ||
      (field.tagName !== "SELECT" && field.type !== "date" && (event.key === "ArrowDown" || event.key === "ArrowUp"))
    ) {
      event.preventDefault();
      move(field, event.key === "ArrowUp" || (event.key === "Enter" && event.shiftKey) ? -1 : 1, 0);
    } else if (event.key === "Escape" && field.defaultValue !== undefined) {
      field.value = field.defaultValue;
      mark(field);
      count();
    }
  });
  form.addEventListener("submit", () => {
    saving = true;
  });
  addEventListener("beforeunload", (event) => {
    if (!saving && form.querySelector(".changed")) event.preventDefault();
  });
}
