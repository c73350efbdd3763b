// The facts proposed beside a text are taken into it with one press; what is typed asks before it is left.
export function attachExplain() {
  const form = document.querySelector("[data-explain]");
  if (!form) return;
  let typed = false;
  form.addEventListener("input", () => (typed = true));
  form.addEventListener("submit", () => (typed = false));
  window.addEventListener("beforeunload", (e) => typed && e.preventDefault());
  for (const button of form.querySelectorAll("[data-take]")) {
    button.hidden = false;
    button.addEventListener("click", () => {
      const box = form.querySelector(`#text-${button.dataset.take}`);
      const facts = button.parentElement.querySelector("[data-facts]").textContent;
      box.value = box.value.trim() ? `${box.value.trimEnd()}\n\n${facts}` : facts;
      typed = true;
      box.focus();
    });
  }
}
