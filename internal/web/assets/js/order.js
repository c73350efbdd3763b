// Choices that are put into their order, by dragging or with Alt and the arrows; forms send them as they stand.
import Sortable from "sortablejs";

function moved(box) {
  box.dispatchEvent(new CustomEvent("ordered", { bubbles: true }));
}

function step(event) {
  if (!event.altKey || (event.key !== "ArrowUp" && event.key !== "ArrowDown")) return;
  const box = event.target.closest("[data-order]");
  const item = [...(box?.children ?? [])].find((x) => x.contains(event.target));
  const other = event.key === "ArrowUp" ? item?.previousElementSibling : item?.nextElementSibling;
  if (!other) return;
  event.preventDefault();
  if (event.key === "ArrowUp") other.before(item);
  else other.after(item);
  event.target.focus();
  moved(box);
}

// orderable lets the children of a box be put into their order.
export function orderable(box, then) {
  Sortable.create(box, {
    animation: 120,
    filter: "input, textarea, summary, select",
    preventOnFilter: false,
    onUpdate: () => moved(box),
  });
  box.dataset.order = "";
  box.addEventListener("keydown", step);
  if (then) box.addEventListener("ordered", then);
}

export function attachOrder() {
  for (const box of document.querySelectorAll("[data-order]")) orderable(box);
}
