// Menus that open under their name: one at a time, closed by Esc and by what happens elsewhere; and the tree of scopes, narrowed by
// what is typed.
function closeOthers(but) {
  for (const menu of document.querySelectorAll("details[data-menu][open]")) if (menu !== but) menu.open = false;
}

function narrow(field) {
  const wanted = field.value.trim().toLocaleLowerCase();
  const tree = field.parentElement.querySelector("ul.tree");
  if (!tree) return; // it is on its way
  let any = false;
  const show = (li) => {
    const below = [...li.querySelectorAll(":scope > ul > li")].map(show);
    const own = li.firstElementChild.textContent.toLocaleLowerCase().includes(wanted);
    const shown = own || below.includes(true);
    if (own && wanted) for (const x of li.querySelectorAll("li")) x.hidden = false;
    li.hidden = !shown;
    any ||= shown;
    return shown;
  };
  for (const li of tree.children) show(li);
  field.parentElement.querySelector("[data-places-none]").hidden = any;
}

// choose goes to the first scope that has what is typed, once the tree is there.
function choose(field) {
  const tree = field.parentElement.querySelector("ul.tree");
  if (!tree) {
    field.dataset.wanted = "yes";
    return;
  }
  const typed = field.value.trim().toLocaleLowerCase();
  const hits = [...tree.querySelectorAll("a")].filter((a) => a.offsetParent);
  hits.find((a) => a.textContent.toLocaleLowerCase().includes(typed))?.click();
}

export function attachMenus() {
  document.addEventListener("click", (event) => closeOthers(event.target.closest("details[data-menu]")));
  document.addEventListener("keydown", (event) => {
    const open = document.querySelector("details[data-menu][open]");
    if (event.key === "Escape" && open) {
      event.preventDefault();
      open.open = false;
      open.querySelector("summary").focus();
    }
    if (event.key === "Enter" && event.target.matches?.("[data-places-find]")) choose(event.target);
  });
  document.addEventListener("input", (event) => {
    if (event.target.matches("[data-places-find]")) narrow(event.target);
  });
  const ready = (menu) => {
    if (menu?.matches?.("details.view[open]")) menu.querySelector("[data-places-find]").focus();
  };
  document.addEventListener("toggle", (event) => ready(event.target), true);
  ready(document.querySelector("details.view[open]")); // one may be quicker than this script
  document.addEventListener("htmx:afterSwap", (event) => {
    if (!event.target.matches?.("[data-places]")) return;
    const field = event.target.parentElement.querySelector("[data-places-find]");
    narrow(field);
    if (field.dataset.wanted) choose(field);
  });
}
