// The margin: a column at the right that opens for a trace. Its content is part of the page's address (?trace=...), so
// that it can be shared, and Esc closes it.
let opener = null;

export function closeMargin() {
  const link = document.querySelector("#margin [data-close]");
  if (link) link.click();
}

export function attachMargin() {
  document.addEventListener("click", (event) => {
    const link = event.target.closest("a[data-trace]");
    if (link) opener = link.getAttribute("href");
  });
  document.addEventListener("htmx:afterSettle", (event) => {
    if (event.detail.target.id !== "margin") return;
    const head = document.querySelector("#margin h2");
    if (head) {
      head.focus({ preventScroll: true });
    } else if (opener) {
      const back = document.querySelector(`a[data-trace][href="${CSS.escape(opener)}"]`);
      if (back) back.focus({ preventScroll: true });
      opener = null;
    }
  });
  for (const failure of ["htmx:sendError", "htmx:responseError", "htmx:timeout"]) {
    document.addEventListener(failure, (event) => {
      const box = document.getElementById("failure");
      box.hidden = false;
      box.querySelector("a").href = event.detail.pathInfo?.requestPath ?? location.href;
    });
  }
  document.addEventListener("htmx:beforeRequest", () => {
    document.getElementById("failure").hidden = true;
  });
}
