// Amounts as whole minor units: written, read and converted without a float.

const writers = new Map();

function writer(places) {
  if (!writers.has(places))
    writers.set(places, new Intl.NumberFormat("en-GB", { minimumFractionDigits: places, maximumFractionDigits: places }));
  return writers.get(places);
}

// format writes minor units with thousands separated and a true minus; nothing for zero.
export function format(v, places) {
  if (v === 0) return "";
  const digits = String(Math.abs(v)).padStart(places + 1, "0");
  const decimal = places > 0 ? `${digits.slice(0, -places)}.${digits.slice(-places)}` : digits; // as text, so that no float rounds it
  return (v < 0 ? "−" : "") + writer(places).format(decimal);
}

// plain is an amount as it is typed and sent.
export const plain = (v, places) => format(v, places).replaceAll(",", "").replace("−", "-");

// parse reads what people type or paste: 1234.50, 1,234.50, 1 234,50, (12), -7, € 5; null for what is no amount, infinity
// for what is beyond counting. Empty is 0.
export function parse(text, places) {
  let s = text
    .trim()
    .replace(/[\s\u00a0\u202f'’€£$]/g, "")
    .replace("−", "-");
  if (s === "" || s === "-" || s === "–") return 0;
  if (/^\(.*\)$/.test(s)) s = "-" + s.slice(1, -1);
  if (/,\d{1,2}$/.test(s) && !/,\d{3}/.test(s.replace(/,\d{1,2}$/, "")))
    s = s.replaceAll(".", "").replace(",", "."); // a decimal comma
  else if (/^[-+]?\d{1,3}(,\d{3})+(\.\d+)?$/.test(s)) s = s.replaceAll(",", "");
  const m = /^([-+]?)(\d*)(?:\.(\d*))?$/.exec(s);
  if (!m || (m[2] === "" && !m[3])) return null;
  const decimals = (m[3] ?? "").replace(/0+$/, "");
  if (decimals.length > places) return null;
  const n = Number((m[2] || "0") + decimals.padEnd(places, "0"));
  return Number.isSafeInteger(n) ? (m[1] === "-" ? -n : n) + 0 : Infinity;
}

// convert multiplies by a fraction, rounding half to even.
export function convert(v, num, den) {
  const d = BigInt(den);
  const p = BigInt(Math.abs(v)) * BigInt(num);
  let q = p / d;
  const twice = (p % d) * 2n;
  if (twice > d || (twice === d && q % 2n === 1n)) q += 1n;
  return Number(v < 0 ? -q : q);
}
