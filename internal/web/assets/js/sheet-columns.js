// Columns of a table to edit that one does not need are hidden; what stands in them is sent as it is. Which, is in the address.
const slug = (text) =>
  text
    .trim()
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "");

function hidden() {
  return new Set((new URL(location.href).searchParams.get("hide") ?? "").split(",").filter(Boolean));
}

function apply(table, names, off) {
  for (const row of table.rows) {
    [...row.cells].forEach((cell, at) => {
      cell.hidden = off.has(names[at]);
    });
  }
}

// send has the page that answers a save hide the same columns.
function send(form, off) {
  const to = new URL(form.action);
  if (off.size) to.searchParams.set("hide", [...off].join(","));
  else to.searchParams.delete("hide");
  form.action = to;
}

export function attachSheetColumns() {
  const table = document.querySelector("form[data-sheet] .sheet-scroll > table.sheet");
  const template = document.getElementById("sheet-columns");
  if (!table?.tHead || !template) return;
  const names = [...table.tHead.rows[0].cells].map((th) => slug(th.textContent));
  const box = template.content.firstElementChild.cloneNode(true);
  const off = hidden();
  for (const [at, name] of names.entries()) {
    const label = document.createElement("label");
    const check = document.createElement("input");
    Object.assign(check, { type: "checkbox", checked: !off.has(name), disabled: at === 0 });
    check.addEventListener("change", () => {
      if (check.checked) off.delete(name);
      else off.add(name);
      apply(table, names, off);
      const to = new URL(location.href);
      if (off.size) to.searchParams.set("hide", [...off].join(","));
      else to.searchParams.delete("hide");
      history.replaceState(history.state, "", to);
      send(table.closest("form"), off);
    });
    label.append(check, ` ${table.tHead.rows[0].cells[at].textContent.trim()}`);
    box.querySelector("[data-columns]").append(label);
  }
  table.closest(".sheet-scroll").before(box);
  off.delete(names[0]);
  apply(table, names, off);
  send(table.closest("form"), off);
}
