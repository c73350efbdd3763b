// Rows of a table that are put into their order: by dragging their handle, or with Alt and an arrow on it. The page that answers says what came
// of it.
import Sortable from "sortablejs";

function send(body, code, before) {
  const form = document.createElement("form");
  form.method = "post";
  form.action = body.dataset.ranked;
  const fields = { _csrf: body.dataset.token, back: body.dataset.back, code, before };
  for (const [name, value] of Object.entries(fields)) {
    const input = document.createElement("input");
    Object.assign(input, { type: "hidden", name, value });
    form.append(input);
  }
  sessionStorage.setItem("turret-ranked", code);
  document.body.append(form);
  form.submit();
}

const rows = (body) => [...body.querySelectorAll("tr[data-code]")];

function onKey(body, event) {
  const handle = event.target.closest(".handle");
  if (!handle || !event.altKey || (event.key !== "ArrowUp" && event.key !== "ArrowDown")) return;
  event.preventDefault();
  const all = rows(body);
  const at = all.indexOf(handle.closest("tr"));
  if (event.key === "ArrowUp" && at > 0) send(body, all[at].dataset.code, all[at - 1].dataset.code);
  if (event.key === "ArrowDown" && at < all.length - 1) send(body, all[at].dataset.code, all[at + 2]?.dataset.code ?? "");
}

function attach(body) {
  if (body.dataset.attached) return;
  body.dataset.attached = "yes";
  Sortable.create(body, {
    handle: ".handle",
    draggable: "tr[data-code]",
    animation: matchMedia("(prefers-reduced-motion: reduce)").matches ? 0 : 120,
    onUpdate: (e) => {
      const all = rows(body);
      send(body, e.item.dataset.code, all[all.indexOf(e.item) + 1]?.dataset.code ?? "");
    },
  });
  body.addEventListener("keydown", (event) => onKey(body, event));
  const last = sessionStorage.getItem("turret-ranked");
  sessionStorage.removeItem("turret-ranked");
  if (last) body.querySelector(`tr[data-code="${CSS.escape(last)}"] .handle`)?.focus();
}

export function attachRanked() {
  const all = () => document.querySelectorAll("[data-ranked]").forEach(attach);
  all();
  document.addEventListener("htmx:load", all);
}
