// Controls that send their form when they change; the button they stand in for serves where scripts do not run.
export function attachControls() {
  document.addEventListener("change", (event) => {
    const form = event.target.closest("form[data-send]");
    if (form) form.requestSubmit();
  });
  document.documentElement.classList.add("js");
}
