// Keys that work everywhere outside fields; ? lists them.
import { closeMargin } from "./margin.js";

let went = 0;

function row(step) {
  const rows = [...document.querySelectorAll("[data-rows] tbody tr:not([hidden])")];
  if (rows.length === 0) return;
  const at = rows.findIndex((r) => r.contains(document.activeElement));
  const next = rows[Math.max(0, Math.min(rows.length - 1, at + step))];
  (next.querySelector("a.project") ?? next.querySelector("a"))?.focus();
}

function trace() {
  const focused = document.activeElement?.closest("a[data-trace]");
  const within = document.activeElement?.closest("tr")?.querySelector("a[data-trace]");
  (focused ?? within ?? document.querySelector("main a[data-trace]"))?.click();
}

function help() {
  const dialog = document.getElementById("keys");
  if (dialog.open) dialog.close();
  else dialog.showModal();
}

const single = {
  "/": () => document.getElementById("find")?.focus(),
  "?": help,
  t: trace,
  j: () => row(1),
  k: () => row(-1),
  "[": () => document.querySelector("[data-period-back]")?.click(),
  "]": () => document.querySelector("[data-period-on]")?.click(),
  Escape: closeMargin,
};

// means reports whether a key does something everywhere.
export const means = (key) => key === "g" || key in single;

export function attachKeyboard() {
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.target.closest("input, select, textarea")) {
      if (event.key === "Escape") event.target.blur();
      return;
    }
    if (document.querySelector("dialog[open]") && event.key !== "?") return;
    if (event.key === "g") {
      went = Date.now();
      return;
    }
    const section = document.querySelector(`[data-go="${CSS.escape(event.key)}"]`);
    if (Date.now() - went < 1500 && section) {
      event.preventDefault();
      went = 0;
      section.click();
      return;
    }
    const act = single[event.key];
    if (act) {
      event.preventDefault();
      act();
    }
  });
}
