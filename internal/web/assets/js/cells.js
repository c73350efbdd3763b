// What a cell of a table says, as something to sort and to filter by: numbers as numbers, days as days, what is missing last either way.
const DAY = /^(\d{1,2}) (Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec) (\d{1,4})$/;
const NUMBER = /^([+−-]?)\s*(?:[€£$¥]|[A-Z]{3}\s?)?\s*([+−-]?)(\d[\d,]*(?:\.\d+)?)\s*(k|M|bn|%|d|days?)?$/;
const TIMES = { k: 1e3, M: 1e6, bn: 1e9 };

export function sortKey(text) {
  const plain = text.trim();
  if (plain === "" || plain === "–") return null;
  if (DAY.test(plain)) return Date.parse(`${plain} UTC`);
  if (/^\d{4}-\d\d-\d\d$/.test(plain)) return Date.parse(plain);
  const found = NUMBER.exec(plain);
  if (!found) return plain.toLocaleLowerCase();
  const less = found[1] === "−" || found[1] === "-" || found[2] === "−" || found[2] === "-";
  const size = Number(found[3].replaceAll(",", "")) * (TIMES[found[4]] ?? 1);
  return less ? -size : size;
}

export function compareKeys(a, b, down) {
  if (a === null || b === null) return a === b ? 0 : a === null ? 1 : -1;
  const order = typeof a === "number" && typeof b === "number" ? a - b : String(a).localeCompare(String(b));
  return down ? -order : order;
}

// fold writes a text without the marks that people leave out when they search.
const fold = (text) =>
  text
    .toLocaleLowerCase("en")
    .normalize("NFD")
    .replace(/\p{M}/gu, "")
    .replaceAll("ı", "i")
    .replaceAll("ø", "o")
    .replaceAll("ł", "l")
    .replaceAll("ß", "ss");

const RANGE = /^(.*?)\s*\.\.\s*(.*)$/;

// matches tells whether a cell answers a filter: words it holds, !words it does not hold, =words it is, <, >, <=, >= a number or a day,
// a..b between two of them, – for nothing.
export function matches(text, asked) {
  const want = asked.trim();
  if (want === "") return true;
  const plain = fold(text.trim());
  const key = sortKey(text);
  if (want === "–" || want === "-") return key === null;
  if (want.startsWith("!")) return !plain.includes(fold(want.slice(1).trim()));
  const signed = /^(<=|>=|<|>)\s*(.+)$/.exec(want);
  if (signed) {
    const limit = sortKey(signed[2]);
    if (typeof limit !== "number" || typeof key !== "number") return false;
    return { "<": key < limit, ">": key > limit, "<=": key <= limit, ">=": key >= limit }[signed[1]];
  }
  const range = RANGE.exec(want);
  if (range && (range[1] || range[2])) {
    const [low, high] = [range[1] ? sortKey(range[1]) : -Infinity, range[2] ? sortKey(range[2]) : Infinity];
    if (typeof low === "number" && typeof high === "number") return typeof key === "number" && key >= low && key <= high;
  }
  if (want.startsWith("=")) return plain === fold(want.slice(1).trim());
  return plain.includes(fold(want));
}
