// Choices that are dragged into their order; forms send them as they stand.
import Sortable from "sortablejs";

export function attachOrder() {
  for (const box of document.querySelectorAll("[data-order]")) Sortable.create(box, { animation: 120, filter: "input", preventOnFilter: false });
}
