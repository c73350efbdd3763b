// Fields of days show them as everywhere else (31 Oct 2026), understand what is typed, and send YYYY-MM-DD. The browser's picker stays a
// button beside them.
const MONTHS = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];

const iso = (year, month, day) => {
  const date = new Date(Date.UTC(year, month - 1, day));
  const same = date.getUTCFullYear() === year && date.getUTCMonth() === month - 1 && date.getUTCDate() === day;
  return same && year >= 1900 && year <= 2200 ? date.toISOString().slice(0, 10) : null;
};

// parseDay reads a day as people type it, its month by name or second after the day; without a year that of today. Empty is "", what is no
// day null.
export function parseDay(text, today = document.documentElement.dataset.today ?? new Date().toISOString().slice(0, 10)) {
  const plain = text.trim().toLowerCase();
  if (plain === "") return "";
  const year = (n) => (n === undefined ? Number(today.slice(0, 4)) : n.length <= 2 ? 2000 + Number(n) : Number(n));
  let found = /^(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})$/.exec(plain);
  if (found) return iso(Number(found[1]), Number(found[2]), Number(found[3]));
  found = /^(\d{1,2})[ ./-]+(\d{1,2})(?:[ ./-]+(\d{4}|\d{2}))?[ .]*$/.exec(plain);
  if (found) return iso(year(found[3]), Number(found[2]), Number(found[1]));
  found = /^(\d{1,2})[ .]*([a-z]{3})[a-z]*[ .,]*(\d{4}|\d{2})?$/.exec(plain) ?? null;
  const month = found ? MONTHS.indexOf(found[2]) + 1 : 0;
  return month > 0 ? iso(year(found[3]), month, Number(found[1])) : null;
}

export function showDay(day) {
  const [y, m, d] = day.split("-").map(Number);
  const name = MONTHS[m - 1];
  return day ? `${d} ${name[0].toUpperCase()}${name.slice(1)} ${y}` : "";
}

// dayOf is the day of a field as it is sent.
export const dayOf = (input) => (input.dataset.day === undefined ? input.value : (parseDay(input.value) ?? ""));

function check(input) {
  const day = parseDay(input.value);
  input.setCustomValidity(day === null ? "A day such as 31 Oct 2026." : "");
  if (day) input.value = showDay(day);
}

function picker(input) {
  const button = document.createElement("button");
  Object.assign(button, { type: "button", className: "pick-day", title: "Choose from a calendar", tabIndex: -1 });
  button.setAttribute("aria-hidden", "true"); // by keyboard a day is typed
  const native = document.createElement("input");
  Object.assign(native, { type: "date", tabIndex: -1 });
  native.setAttribute("aria-hidden", "true");
  button.addEventListener("click", () => {
    native.value = parseDay(input.value) ?? "";
    native.showPicker?.();
  });
  native.addEventListener("change", () => {
    input.value = showDay(native.value);
    input.setCustomValidity("");
    input.dispatchEvent(new Event("input", { bubbles: true }));
    input.dispatchEvent(new Event("change", { bubbles: true }));
  });
  const box = document.createElement("span");
  box.className = "day-field";
  input.before(box);
  box.append(input, button, native);
}

// attachDaysIn turns the fields of days in a part of the page.
export function attachDaysIn(root) {
  for (const input of root.querySelectorAll("input[type=date]:not([aria-hidden])")) {
    const day = input.value;
    input.type = "text";
    input.dataset.day = "";
    input.autocomplete = "off";
    input.placeholder = "d mmm yyyy";
    input.value = input.defaultValue = showDay(day);
    input.addEventListener("change", () => check(input));
    picker(input);
  }
}

export function attachDays() {
  attachDaysIn(document);
  document.addEventListener("htmx:afterSettle", (event) => attachDaysIn(event.target));
  document.addEventListener("formdata", (event) => {
    for (const input of event.target.querySelectorAll("input[data-day]")) {
      if (input.name && event.formData.has(input.name)) event.formData.set(input.name, parseDay(input.value) ?? input.value);
    }
  });
}
