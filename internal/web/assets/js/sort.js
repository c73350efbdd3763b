// Tables that sort by a click on the head of a column: numbers as numbers, days as days, what is missing last either way.
const MONTH = /^(\d{1,2}) (Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec) (\d{1,4})$/;

export function sortKey(text) {
  const plain = text.trim();
  if (plain === "" || plain === "–") return null;
  const number = Number(plain.replaceAll(",", "").replace("−", "-").replace(/^\+/, ""));
  if (!Number.isNaN(number)) return number;
  return MONTH.test(plain) ? Date.parse(`${plain} UTC`) : plain.toLocaleLowerCase();
}

export function compareKeys(a, b, down) {
  if (a === null || b === null) return a === b ? 0 : a === null ? 1 : -1;
  const order = typeof a === "number" && typeof b === "number" ? a - b : String(a).localeCompare(String(b));
  return down ? -order : order;
}

function sortBy(table, th, at) {
  const down = th.getAttribute("aria-sort") === "ascending";
  const rows = [...table.tBodies[0].rows].map((row, i) => ({ row, i, key: sortKey(row.cells[at].innerText) }));
  rows.sort((a, b) => compareKeys(a.key, b.key, down) || a.i - b.i);
  table.tBodies[0].append(...rows.map((r) => r.row));
  for (const other of th.parentElement.cells) other.removeAttribute("aria-sort");
  th.setAttribute("aria-sort", down ? "descending" : "ascending");
}

export function attachSort() {
  for (const table of document.querySelectorAll("table[data-sorts]")) {
    [...table.tHead.rows[0].cells].forEach((th, at) => {
      if (!th.textContent.trim()) return;
      const button = document.createElement("button");
      button.type = "button";
      button.className = "sort";
      button.append(...th.childNodes);
      th.append(button);
      button.addEventListener("click", () => sortBy(table, th, at));
    });
  }
}
