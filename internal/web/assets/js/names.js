// Completion of names in the fields of expressions: the word at the cursor is matched against a list of names.
const most = 8;

function wordAt(field) {
  const before = field.value.slice(0, field.selectionStart);
  const word = /[a-z][a-z0-9_.]*$/i.exec(before)?.[0] ?? "";
  const quotes = before.split('"').length - 1;
  return quotes % 2 ? "" : word;
}

class Completion {
  constructor(field) {
    this.field = field;
    this.names = [...document.getElementById(field.dataset.names).options].map((o) => ({ name: o.value, says: o.textContent }));
    this.list = document.createElement("ul");
    this.list.className = "completion";
    this.list.id = `completion-${field.name}`;
    this.list.setAttribute("role", "listbox");
    this.list.setAttribute("aria-label", "Names");
    this.list.hidden = true;
    field.after(this.list);
    field.setAttribute("aria-controls", this.list.id);
    field.setAttribute("aria-autocomplete", "list");
    field.addEventListener("input", () => this.offer());
    field.addEventListener("keydown", (event) => this.key(event));
    field.addEventListener("blur", () => setTimeout(() => this.close(), 150));
    this.list.addEventListener("mousedown", (event) => {
      const item = event.target.closest("li");
      if (!item) return;
      event.preventDefault();
      this.take(item.dataset.name);
    });
  }

  offer() {
    const word = wordAt(this.field).toLowerCase();
    const found = word.length < 2 ? [] : this.names.filter((n) => n.name.includes(word) || n.says.toLowerCase().includes(word));
    found.sort((a, b) => Number(b.name.startsWith(word)) - Number(a.name.startsWith(word)));
    if (found.length === 0 || found.some((n) => n.name === word)) return this.close();
    this.list.replaceChildren(
      ...found.slice(0, most).map((n, i) => {
        const li = document.createElement("li");
        li.id = `${this.list.id}-${i}`;
        li.dataset.name = n.name;
        li.setAttribute("role", "option");
        const code = document.createElement("code");
        code.textContent = n.name;
        const small = document.createElement("small");
        small.textContent = n.says;
        li.append(code, small);
        return li;
      }),
    );
    this.list.hidden = false;
    this.field.setAttribute("aria-expanded", "true");
    this.at = 0;
    this.mark();
  }

  mark() {
    [...this.list.children].forEach((li, i) => li.setAttribute("aria-selected", String(i === this.at)));
    this.field.setAttribute("aria-activedescendant", this.list.children[this.at]?.id ?? "");
  }

  key(event) {
    if (this.list.hidden) return;
    const n = this.list.children.length;
    if (event.key === "ArrowDown") this.at = (this.at + 1) % n;
    else if (event.key === "ArrowUp") this.at = (this.at + n - 1) % n;
    else if (event.key === "Enter" || event.key === "Tab") this.take(this.list.children[this.at].dataset.name);
    else if (event.key === "Escape") this.close();
    else return;
    event.preventDefault();
    event.stopPropagation();
    if (!this.list.hidden) this.mark();
  }

  take(name) {
    const f = this.field;
    const end = f.selectionStart;
    const start = end - wordAt(f).length;
    f.setRangeText(name, start, end, "end");
    f.focus();
    this.close();
  }

  close() {
    this.list.hidden = true;
    this.field.setAttribute("aria-expanded", "false");
    this.field.removeAttribute("aria-activedescendant");
  }
}

export function attachNames() {
  for (const field of document.querySelectorAll("[data-names]")) new Completion(field);
}
