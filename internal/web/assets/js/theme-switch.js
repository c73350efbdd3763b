// The switch between paper and dark; the choice stays on this machine.
export function attachTheme() {
  document.addEventListener("click", (event) => {
    if (!event.target.closest("[data-theme-switch]")) return;
    const root = document.documentElement;
    root.dataset.bsTheme = root.dataset.bsTheme === "dark" ? "light" : "dark";
    try {
      localStorage.setItem("theme", root.dataset.bsTheme);
    } catch {
      // the choice then lasts for this page
    }
  });
}
