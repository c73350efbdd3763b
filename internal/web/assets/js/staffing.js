// Bars of assignments are carried by the mouse, or stretched at their ends; their days follow, and what it would do is asked for when let go.
const day = 86400000;

// Days are counted from 1 January of the year 1, as the server does.
const epoch = Date.UTC(1970, 0, 1) - 719162 * day;
const iso = (n) => new Date(epoch + (n - 1) * day).toISOString().slice(0, 10);

export function attachStaffing() {
  const form = document.querySelector("form[data-staffing]");
  if (!form) return;
  const first = Number(form.dataset.staffing);
  let held = null;
  form.addEventListener("pointerdown", (event) => {
    const bar = event.target.closest("[data-bar]");
    if (!bar || !form.querySelector("[data-try]")) return;
    event.preventDefault();
    const box = bar.getBoundingClientRect();
    const perDay = bar.ownerSVGElement.getBoundingClientRect().width / bar.ownerSVGElement.viewBox.baseVal.width;
    const edge = Math.min(8, box.width / 4);
    const end = event.clientX < box.left + edge ? "from" : event.clientX > box.right - edge ? "to" : "";
    held = { bar, end, perDay, at: event.clientX, x: bar.x.baseVal.value, w: bar.width.baseVal.value };
    bar.setPointerCapture(event.pointerId);
  });
  form.addEventListener("pointermove", (event) => {
    if (!held) return;
    const by = Math.round((event.clientX - held.at) / held.perDay);
    const x = held.end === "to" ? held.x : Math.min(held.x + by, held.end === "from" ? held.x + held.w - 1 : Infinity);
    const w = held.end === "to" ? Math.max(1, held.w + by) : held.end === "from" ? held.x + held.w - x : held.w;
    held.bar.x.baseVal.value = x;
    held.bar.width.baseVal.value = w;
    const field = (name) => form.elements[`${name}-${held.bar.dataset.bar}`];
    if (held.end !== "to") field("from").value = iso(first + x);
    if (held.end !== "from") field("to").value = iso(first + x + w - 1);
  });
  form.addEventListener("pointerup", () => {
    if (!held) return;
    const moved = held.x !== held.bar.x.baseVal.value || held.w !== held.bar.width.baseVal.value;
    held = null;
    if (moved) form.requestSubmit(form.querySelector("[data-try]"));
  });
  addEventListener("keydown", (event) => {
    if (event.key !== "Escape" || !held) return;
    held.bar.x.baseVal.value = held.x;
    held.bar.width.baseVal.value = held.w;
    held = null;
  });
}
