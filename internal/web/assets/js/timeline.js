// The timeline under mouse and keys.
import { html, nothing, render } from "lit-html";
import { at } from "./base.js";
import { Scale } from "./scale.js";
import { TimelineView } from "./timeline-view.js";

const SPANS = [
  ["Week", 7],
  ["Month", 31],
  ["Quarter", 92],
  ["Year", 366],
  ["2 years", 731],
  ["5 years", 1827],
];

export class Timeline extends TimelineView {
  constructor(host, options = {}) {
    super(options);
    this.host = host;
    this.build();
  }

  build() {
    const still = this.host.querySelector("[data-tl-still]");
    const tools = this.host.querySelector("[data-tl-tools]");
    tools.hidden = false;
    const plan = this.options.plan;
    render(
      html`
        <span class="soft">Show</span>
        ${SPANS.map(([name, days]) => html`<button type="button" data-span=${days}>${name}</button>`)}
        <button type="button" data-fit>All</button>
        <button type="button" data-zoom="1.5" aria-label="Zoom in">+</button>
        <button type="button" data-zoom="0.667" aria-label="Zoom out">−</button>
        ${plan ? nothing : html`<button type="button" data-unfold>Unfold all</button>`}
        <label class="soft"><input type="checkbox" data-ties checked /> dependencies</label>
        <span class="soft push">over the months, or with Ctrl, the wheel zooms</span>
      `,
      tools,
    );
    const live = document.createElement("div");
    render(
      html`<div class="tl-grid">
          <div class="tl-corner"></div>
          <svg class="scene tl-head" aria-hidden="true"></svg>
          <div class="tl-scroll">
            <div class="tl-space">
              <div class="tl-pane">
                <div class="tl-names" role="tree" tabindex="0" aria-label=${plan ? "Activities" : "Projects and activities"}></div>
                <svg class="scene tl-body" aria-hidden="true"></svg>
              </div>
            </div>
          </div>
        </div>
        <div class="tl-tip" role="status" hidden></div>`,
      live,
    );
    still.replaceWith(...live.children);
    for (const part of ["corner", "head", "scroll", "space", "pane", "names", "body", "tip"])
      this[part] = this.host.querySelector(`.tl-${part}`);
    this.tools = tools;
    this.scale = new Scale(600);
    this.listen();
  }

  listen() {
    this.scroll.addEventListener("scroll", () => this.draw(), { passive: true });
    new ResizeObserver(() => this.resize()).observe(this.host);
    addEventListener("resize", () => this.resize());
    this.tools.addEventListener("click", (event) => this.tool(event.target.closest("button")));
    this.tools.querySelector("[data-ties]").addEventListener("change", () => this.draw());
    for (const part of [this.head, this.body]) {
      part.addEventListener("wheel", (event) => this.wheel(event, part === this.head), { passive: false });
      part.addEventListener("pointerdown", (event) => this.grab(event));
    }
    this.scroll.addEventListener("pointermove", (event) => this.hover(event));
    this.scroll.addEventListener("pointerleave", () => (this.tip.hidden = true));
    this.names.addEventListener("keydown", (event) => this.key(event));
    this.names.addEventListener("focus", () => this.draw());
    this.names.addEventListener("blur", () => {
      this.tip.hidden = true;
    });
    this.names.addEventListener("click", (event) => {
      const item = event.target.closest("[data-row]");
      if (!item) return;
      this.active = Number(item.dataset.row);
      if (event.target.closest("[data-fold]")) this.fold(this.rows[this.active]);
      else if (event.target.closest("[data-open]")) this.enter(this.rows[this.active]);
      this.draw();
    });
  }

  // take shows data: groups of projects, or the activities of one.
  take(data, keep = false) {
    this.hold(data);
    this.resize();
    if (!keep) this.fit();
  }

  fold(row) {
    if (!row || row.fold === undefined) return;
    if (this.turn(row)) this.fetchRows(row);
    this.flatten();
    this.resize();
  }

  async fetchRows(row) {
    try {
      const answer = await fetch(at(row.rows), { headers: { Accept: "application/json" } });
      if (!answer.ok) throw new Error(String(answer.status));
      this.loaded.set(row.code, await answer.json());
    } catch {
      this.open.delete(row.code);
      this.say("Its activities did not arrive. Unfold the project to try again.");
    }
    this.flatten();
    this.resize();
  }

  async unfold() {
    for (const p of this.data.projects ?? []) {
      if (p.count === 0) continue;
      this.open.add(p.code);
      if (!this.loaded.has(p.code)) await this.fetchRows(p); // one after the other, so that the first are there at once
    }
    this.flatten();
    this.resize();
  }

  tool(button) {
    if (!button) return;
    if (button.dataset.span) {
      const days = Number(button.dataset.span);
      const middle = this.data.asOf + 1;
      this.scale.fit(middle - days / 3, middle + (2 * days) / 3);
    } else if (button.dataset.zoom) {
      this.scale.zoom(Number(button.dataset.zoom), this.scale.width / 2);
    } else if (button.hasAttribute("data-fit")) {
      this.fit();
    } else if (button.hasAttribute("data-unfold")) {
      this.unfold();
    }
    this.draw();
  }

  wheel(event, head) {
    const x = event.clientX - this.body.getBoundingClientRect().left;
    if (event.ctrlKey || event.metaKey || head) {
      event.preventDefault();
      this.scale.zoom(Math.exp(-event.deltaY * 0.0022), x);
    } else if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
      event.preventDefault();
      this.scale.left += (event.deltaX || event.deltaY) / this.scale.perDay;
    } else {
      return;
    }
    this.draw();
  }

  // grab moves the axis, unless an editor takes the drag for a bar.
  grab(event) {
    if (event.button !== 0) return;
    const row = this.rowAt(event);
    if (event.currentTarget === this.body && this.options.grab?.(event, row)) return;
    const from = event.clientX;
    const left = this.scale.left;
    const top = this.scroll.scrollTop;
    const fromY = event.clientY;
    const target = event.currentTarget;
    target.setPointerCapture(event.pointerId);
    const move = (e) => {
      this.scale.left = left - (e.clientX - from) / this.scale.perDay;
      if (target === this.body) this.scroll.scrollTop = top - (e.clientY - fromY);
      this.draw();
    };
    const end = (e) => {
      target.removeEventListener("pointermove", move);
      if (row && Math.abs(e.clientX - from) + Math.abs(e.clientY - fromY) < 4 && target === this.body) {
        this.active = this.rows.indexOf(row);
        this.draw();
      }
    };
    target.addEventListener("pointermove", move);
    target.addEventListener("pointerup", end, { once: true });
    target.addEventListener("pointercancel", end, { once: true });
  }

  key(event) {
    const row = this.rows[this.active];
    const page = Math.max(1, Math.floor(this.view / 30));
    const acts = {
      ArrowDown: () => (this.active += 1),
      ArrowUp: () => (this.active -= 1),
      PageDown: () => (this.active += page),
      PageUp: () => (this.active -= page),
      Home: () => (this.active = 0),
      End: () => (this.active = this.rows.length - 1),
      ArrowRight: () => (row?.fold === false ? this.fold(row) : this.pan(0.15)),
      ArrowLeft: () => (row?.fold === true ? this.fold(row) : this.pan(-0.15)),
      "+": () => this.scale.zoom(1.4, this.scale.width / 2),
      "=": () => this.scale.zoom(1.4, this.scale.width / 2),
      "-": () => this.scale.zoom(1 / 1.4, this.scale.width / 2),
      0: () => this.fit(),
      " ": () => this.fold(row),
      Enter: () => this.enter(row),
    };
    if (event.altKey || event.ctrlKey || event.metaKey) return;
    if (event.shiftKey && (event.key === "ArrowRight" || event.key === "ArrowLeft")) {
      this.pan(event.key === "ArrowRight" ? 0.15 : -0.15);
    } else if (this.options.key?.(event, row)) {
      event.preventDefault();
      event.stopPropagation();
      return;
    } else if (acts[event.key]) {
      acts[event.key]();
    } else {
      return;
    }
    event.preventDefault();
    event.stopPropagation();
    this.active = Math.max(0, Math.min(this.rows.length - 1, this.active));
    this.reveal();
    this.draw();
    this.tell(this.rows[this.active]);
  }

  // enter opens the details of a row in the margin; of a project, its page.
  enter(row) {
    if (!row || row.type === "group") return;
    if (row.type === "project") {
      location.assign(at(row.href));
      return;
    }
    const asof = new URLSearchParams(location.search).get("asof");
    const address = `/projects/${encodeURIComponent(row.project)}?${asof ? `asof=${asof}&` : ""}trace=milestone&milestone=${encodeURIComponent(row.code)}`;
    window.htmx.ajax("GET", at(address), { target: "#margin", source: this.names });
  }
}

export async function attachTimeline() {
  const host = document.querySelector("[data-timeline]");
  if (!host) return;
  const still = host.querySelector("[data-tl-still]");
  let data;
  try {
    const answer = await fetch(host.dataset.timeline, { headers: { Accept: "application/json" } });
    if (!answer.ok) throw new Error(String(answer.status));
    data = await answer.json();
  } catch {
    const lost = html`<p class="problem" role="alert">
      The live timeline did not arrive; below is the still one. <a href="">Try again</a>
    </p>`;
    render(lost, still.parentElement, { renderBefore: still });
    return;
  }
  const timeline = new Timeline(host);
  timeline.take(data);
  host.timeline = timeline;
  host.dataset.ready = "yes";
}
