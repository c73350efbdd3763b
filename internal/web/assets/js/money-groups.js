// What the money grid is grouped by: chips in their order, and beside them those one may drag there. A click does the same, so that keys
// do too.
import { html } from "lit-html";
import Sortable from "sortablejs";
import { fill } from "./draw.js";
import { DIMENSIONS } from "./money-sheet.js";

const chip = (key, name, on) =>
  html`<button
    type="button"
    class=${on ? "chip" : "chip spare"}
    data-group=${key}
    title=${on ? "Drag to put it in another order; click to take it away" : "Drag it among the groups, or click, to group by it"}
  >
    ${on ? `${name} ×` : name}
  </button>`;

// Groups shows the chips and tells which groups were chosen.
export class Groups {
  constructor(box, chosen, tell) {
    Object.assign(this, { chosen, tell });
    fill(
      box,
      html`Grouped by <span class="chips" data-chips></span><span class="soft">or by</span> <span class="chips" data-spare></span>`,
    );
    this.on = box.querySelector("[data-chips]");
    this.off = box.querySelector("[data-spare]");
    this.draw();
    const put = () => this.choose([...this.on.querySelectorAll("[data-group]")].map((c) => c.dataset.group));
    for (const list of [this.on, this.off]) Sortable.create(list, { group: "groups", animation: 120, onEnd: put });
    box.addEventListener("click", (event) => this.click(event.target.closest("[data-group]")));
  }

  draw() {
    const name = Object.fromEntries(DIMENSIONS);
    fill(
      this.on,
      this.chosen.map((g) => chip(g, name[g], true)),
    );
    fill(
      this.off,
      DIMENSIONS.filter(([d]) => !this.chosen.includes(d)).map(([d, t]) => chip(d, t, false)),
    );
    this.on.classList.toggle("none", this.chosen.length === 0);
  }

  click(at) {
    if (!at) return;
    const key = at.dataset.group;
    const was = this.chosen.includes(key);
    this.choose(was ? this.chosen.filter((g) => g !== key) : [...this.chosen, key]);
    (was ? this.off : this.on).querySelector(`[data-group="${key}"]`)?.focus();
  }

  choose(list) {
    this.chosen = list;
    this.draw();
    this.tell(list);
  }
}
