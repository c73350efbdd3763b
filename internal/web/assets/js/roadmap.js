// Bars of proposals are carried along a roadmap by whole months; what that does is asked for when they are let go.
const codeOf = (link) => /\/projects\/([^/?]+)\/proposal/.exec(link.getAttribute("href"))?.[1];

function attach(figure) {
  if (figure.dataset.attached) return;
  figure.dataset.attached = "yes";
  const perMonth = Number(figure.dataset.roadmap);
  const form = document.querySelector("form[data-moves]");
  const svg = figure.querySelector("svg");
  if (!perMonth || !form || !svg) return;
  let held = null;
  const months = (event) => Math.round((event.clientX - held.at) / held.scale / perMonth);
  svg.addEventListener("pointerdown", (event) => {
    const link = event.target.closest("a.light");
    const field = link && form.elements[`move.${decodeURIComponent(codeOf(link) ?? "")}`];
    if (!field || event.target.tagName !== "rect") return;
    event.preventDefault();
    held = { rect: event.target, field, at: event.clientX, scale: svg.getBoundingClientRect().width / svg.viewBox.baseVal.width };
    svg.setPointerCapture(event.pointerId);
  });
  svg.addEventListener("pointermove", (event) => {
    if (held) held.rect.setAttribute("transform", `translate(${months(event) * perMonth} 0)`);
  });
  svg.addEventListener("pointerup", (event) => {
    if (!held) return;
    const by = months(event);
    const now = held;
    held = null;
    if (by === 0) return;
    now.field.value = String(Number(now.field.value || 0) + by);
    svg.addEventListener("click", (click) => click.preventDefault(), { once: true, capture: true });
    form.requestSubmit();
  });
  addEventListener("keydown", (event) => {
    if (event.key !== "Escape" || !held) return;
    held.rect.removeAttribute("transform");
    held = null;
  });
}

export function attachRoadmap() {
  const all = () => document.querySelectorAll("[data-roadmap]").forEach(attach);
  all();
  document.addEventListener("htmx:load", all);
}
