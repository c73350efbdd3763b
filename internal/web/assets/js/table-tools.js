// The line of tools over a table: filters, columns, saved views, copies and files. Its HTML is a template of the layout.
import { at } from "./base.js";
import { save, sent } from "./save.js";

function count(grid, tools) {
  const all = grid.records();
  const left = all.filter((row) => !row.hidden).length;
  tools.querySelector("[data-count]").textContent =
    left === all.length ? "" : `${left} of ${all.length} ${all.length === 1 ? "row" : "rows"}`;
}

// filterRow stands under the heads, with a field for each column.
function filterRow(grid) {
  const row = document.createElement("tr");
  row.dataset.filters = "";
  for (const column of grid.columns) {
    const cell = document.createElement("td");
    cell.dataset.column = column;
    const input = document.createElement("input");
    Object.assign(input, { type: "search", className: "form-control", value: grid.state.filters[column] ?? "" });
    input.setAttribute("aria-label", `Filter by ${grid.title(column)}`);
    input.title = "words it holds; !words it does not; < 5, > 31 Oct 2026, 5..10; – for nothing";
    input.addEventListener("input", () => {
      grid.state.filters[column] = input.value;
      grid.apply();
    });
    cell.append(input);
    row.append(cell);
  }
  return row;
}

function attachFilters(grid, tools) {
  const button = tools.querySelector("[data-filter]");
  const toggle = (on) => {
    grid.table.tHead.querySelector("[data-filters]")?.remove();
    button.setAttribute("aria-expanded", String(on));
    if (on) {
      grid.table.tHead.append(filterRow(grid));
      grid.arrange();
    } else {
      grid.state.filters = {};
      grid.apply();
    }
  };
  button.addEventListener("click", () => {
    const on = button.getAttribute("aria-expanded") !== "true";
    toggle(on);
    if (on) grid.table.tHead.querySelector("[data-filters] input").focus();
  });
  grid.table.addEventListener("arranged", () => {
    const asked = Object.values(grid.state.filters).some((want) => want.trim());
    if (asked && button.getAttribute("aria-expanded") !== "true") toggle(true);
  });
}

function attachColumns(grid, tools, orderable) {
  const box = tools.querySelector("[data-columns]");
  const fill = () => {
    const shown = grid.shown();
    const list = [...shown, ...grid.columns.filter((c) => !shown.includes(c))];
    box.replaceChildren(
      ...list.map((column) => {
        const label = document.createElement("label");
        const check = document.createElement("input");
        Object.assign(check, { type: "checkbox", checked: shown.includes(column), value: column });
        label.append(check, ` ${grid.title(column)}`);
        return label;
      }),
    );
  };
  const take = () => {
    const on = [...box.querySelectorAll("input:checked")].map((x) => x.value);
    if (on.length === 0) return fill(); // one column at least stays
    grid.state.columns = on.join() === grid.columns.join() ? null : on;
    grid.apply();
  };
  box.closest("details").addEventListener("toggle", fill, { once: true });
  box.addEventListener("change", take);
  orderable(box, take);
  tools.querySelector("[data-all]").addEventListener("click", () => {
    grid.state.columns = null;
    grid.apply();
    fill();
  });
}

// held is what a view keeps of an address: everything but the place and what is open beside the page.
function held() {
  const q = new URLSearchParams(location.search);
  for (const name of ["asof", "scope", "currency", "trace", "at", "of", "record", "page"]) q.delete(name);
  return q.toString();
}

function viewItem(grid, view, refresh) {
  const li = document.createElement("li");
  const a = document.createElement("a");
  const q = new URLSearchParams(view.query);
  for (const name of ["asof", "scope", "currency"]) {
    const now = new URLSearchParams(location.search).get(name);
    if (now) q.set(name, now);
  }
  a.href = `${location.pathname}?${q}`;
  a.textContent = view.name;
  const says = document.createElement("small");
  says.textContent = ` ${view.says} `;
  li.append(a, says);
  if (view.own) {
    const end = document.createElement("button");
    Object.assign(end, { type: "button", className: "quiet", textContent: "take away" });
    end.addEventListener("click", () => sent(at(`/tables/${grid.name}/views/end`), { id: view.id }).then(refresh));
    li.append(end);
  }
  return li;
}

function attachViews(grid, tools, fail) {
  const list = tools.querySelector("[data-views]");
  const form = tools.querySelector("[data-save]");
  const refresh = async () => {
    try {
      const answer = await fetch(at(`/tables/${grid.name}/views`), { headers: { Accept: "application/json" } });
      if (!answer.ok) throw new Error("The saved views cannot be read now.");
      const views = await answer.json();
      list.replaceChildren(...views.map((view) => viewItem(grid, view, refresh)));
      tools.querySelector("[data-none]").hidden = views.length > 0;
    } catch (error) {
      fail(error);
    }
  };
  list.closest("details").addEventListener("toggle", (event) => event.target.open && refresh());
  form.addEventListener("submit", async (event) => {
    event.preventDefault();
    const [name, shared] = [form.elements.name.value, form.elements.shared.checked];
    try {
      await sent(at(`/tables/${grid.name}/views`), { name, query: held(), shared });
      form.reset();
      fail(null);
      await refresh();
    } catch (error) {
      fail(error);
    }
  });
}

function attachFiles(grid, tools, fail) {
  for (const format of ["csv", "xlsx"]) {
    tools.querySelector(`[data-take=${format}]`).addEventListener("click", async () => {
      try {
        const answer = await sent(at(`/tables/${grid.name}.${format}${location.search}`), grid.content());
        save(await answer.blob(), `${grid.name}.${format}`);
        fail(null);
      } catch (error) {
        fail(error);
      }
    });
  }
  tools.querySelector("[data-copy]").addEventListener("click", async () => {
    const { heads, rows } = grid.content();
    const text = [heads, ...rows].map((row) => row.map((x) => x.replaceAll("\t", " ")).join("\t")).join("\n");
    try {
      await navigator.clipboard.writeText(text);
      tools.querySelector("[data-count]").textContent = `${rows.length} ${rows.length === 1 ? "row" : "rows"} copied`;
    } catch {
      fail(new Error("The browser did not allow copying; take the table as CSV."));
    }
  });
}

export function attachTools(grid, orderable) {
  const template = document.getElementById("table-tools");
  if (!template || grid.records().length === 0) return;
  const tools = template.content.firstElementChild.cloneNode(true);
  const problem = tools.querySelector("[data-problem]");
  const fail = (error) => {
    problem.hidden = !error;
    problem.textContent = error?.message ?? "";
  };
  attachFilters(grid, tools);
  attachColumns(grid, tools, orderable);
  if (grid.table.dataset.ownViews === undefined) attachViews(grid, tools, fail);
  else tools.querySelector("[data-views]").closest("details").remove(); // the page saves what the server shows
  attachFiles(grid, tools, fail);
  grid.table.addEventListener("arranged", () => count(grid, tools));
  const place = document.querySelector(`[data-tools-of="${grid.name}"]`);
  if (place) place.append(tools);
  else (grid.table.closest(".scroll") ?? grid.table).before(tools);
}
