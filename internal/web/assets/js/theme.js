// Runs before the page is drawn: the person's own choice of theme, else the system's.
(function () {
  let chosen = null;
  try {
    chosen = localStorage.getItem("theme");
  } catch {
    // storage may be blocked; the system's theme serves
  }
  const dark = chosen ? chosen === "dark" : matchMedia("(prefers-color-scheme: dark)").matches;
  document.documentElement.dataset.bsTheme = dark ? "dark" : "light";
})();
