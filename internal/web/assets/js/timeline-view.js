// A timeline as it is seen: rows that are drawn only where they are seen, over an axis that zooms from five years to a week.
import { html, nothing, render, svg } from "lit-html";
import { bar, blocked, flags, pennant } from "./bars.js";
import { TimelineRows } from "./timeline-rows.js";

const HEAD = 44; // pixels
const NAMES = 300;

function upright(cls, x, y1, y2) {
  return svg`<line class=${cls} x1=${x} y1=${y1} x2=${x} y2=${y2}/>`;
}

export class TimelineView extends TimelineRows {
  resize() {
    const width = Math.max(200, this.host.clientWidth - this.names.offsetWidth - 14);
    if (width !== this.scale.width) {
      const right = this.scale.right;
      this.scale.width = width;
      this.scale.perDay = this.scale.limit(width / Math.max(7, right - this.scale.left));
    }
    this.space.style.height = `${(this.total ?? 0) + 8}px`;
    const top = this.scroll.getBoundingClientRect().top + scrollY;
    const most = this.options.height ?? Math.max(260, innerHeight - top - 14);
    this.view = Math.min(most, Math.max(120, (this.total ?? 0) + 8));
    this.scroll.style.height = `${this.view}px`;
    this.pane.style.height = `${this.view}px`;
    this.draw();
  }

  draw() {
    if (this.waiting || !this.rows) return;
    this.waiting = true;
    requestAnimationFrame(() => {
      this.waiting = false;
      this.paint();
    });
  }

  paint() {
    const { scale, view } = this;
    const top = this.scroll.scrollTop;
    const first = Math.max(0, this.indexAt(top) - 1);
    const last = Math.min(this.rows.length, this.indexAt(top + view) + 2);
    const w = scale.width;
    this.paintHead(w);
    const shown = this.rows.slice(first, last);
    this.body.setAttribute("width", w);
    this.body.setAttribute("height", view);
    render(
      [
        this.ground(w, view),
        shown.map((row, i) => this.row(row, first + i, row.y - top, w)),
        this.tools.querySelector("[data-ties]").checked ? this.paintTies(top, first, last) : nothing,
        this.asOf(0, view),
        this.options.paint?.(scale) ?? nothing,
      ],
      this.body,
    );
    render(
      shown.map((row, i) => this.name(row, first + i)),
      this.names,
    );
    [...this.names.children].forEach((name, i) => (name.style.marginTop = i === 0 ? `${this.rows[first].y - top}px` : ""));
    if (this.active >= first && this.active < last) this.names.setAttribute("aria-activedescendant", `tl-row-${this.active}`);
    else this.names.removeAttribute("aria-activedescendant");
    this.options.painted?.();
  }

  row(row, i, y, w) {
    const { scale } = this;
    const foot = y + row.h - 0.5;
    const line = svg`<line class="grid" x1="0" y1=${foot} x2=${w} y2=${foot}/>`;
    const here = i === this.active && document.activeElement === this.names;
    const wash = here ? svg`<rect class="wash" x="0" y=${y} width=${w} height=${row.h - 1}/>` : nothing;
    if (row.type === "group") return [line, wash];
    const event = row.kind === "milestone";
    return [
      line,
      wash,
      event ? flags(scale, [row], y + 20, 14, false) : bar(scale, row, y), // its name stands at the left
      row.type === "project" ? flags(scale, row.milestones, y + 26, 15) : nothing,
      blocked(scale, row, y),
      this.options.overlay?.(row, y, scale) ?? nothing,
    ];
  }

  // Days that are not worked are shaded as soon as they can be told apart, holidays a little sooner.
  ground(w, view) {
    const { scale } = this;
    const out = [];
    if (scale.perDay >= 2) {
      const alone = scale.perDay < 2.5;
      for (let d = Math.floor(scale.left); d <= scale.right; d++) {
        if (d > 0 && !this.worked(d) && (!alone || this.off.has(d)))
          out.push(svg`<rect class="idle" x=${scale.x(d).toFixed(1)} y="0" width=${scale.perDay.toFixed(2)} height=${view}/>`);
      }
    }
    for (const t of this.ticks.lower) {
      const x = scale.x(t.at);
      if (x >= 0 && x <= w) out.push(upright(t.strong ? "grid-strong" : "grid", x.toFixed(1), 0, view));
    }
    return out;
  }

  paintHead(w) {
    const { scale } = this;
    this.ticks = scale.ticks();
    const out = [];
    for (const t of this.ticks.upper) {
      const x = Math.max(2, scale.x(t.at) + 3);
      if (Math.min(w, scale.x(t.next)) - x > 34) out.push(svg`<text class="label" x=${x.toFixed(1)} y="14">${t.label}</text>`);
    }
    for (const t of this.ticks.lower) {
      const x = scale.x(t.at);
      const wide = (t.next - t.at) * scale.perDay;
      if (x > -wide && x < w && t.label && wide > t.label.length * 5.5)
        out.push(svg`<text class="label-soft" text-anchor="middle" x=${(x + wide / 2).toFixed(1)} y="32">${t.label}</text>`);
      if (x >= 0 && x <= w) out.push(upright("grid", x.toFixed(1), 20, HEAD));
    }
    this.head.setAttribute("width", w);
    this.head.setAttribute("height", HEAD);
    render([out, this.asOf(36, HEAD)], this.head);
  }

  // asOf is the line of the day that all is seen from.
  asOf(y1, y2) {
    const x = this.scale.x(this.data.asOf + 1);
    return x > 0 && x < this.scale.width ? upright("asof", x, y1, y2) : nothing;
  }

  name(row, i) {
    const fold = row.fold === undefined ? nothing : html`<span class="tl-fold" data-fold aria-hidden="true">${row.fold ? "▾" : "▸"}</span>`;
    const mark =
      row.type === "project"
        ? html`<svg class="scene" width="14" height="14" aria-hidden="true">${pennant(1.5, 13, 12, row.health)}</svg>`
        : nothing;
    const days = row.days
      ? html`<span class="tl-days${row.days > 0 ? " late" : ""}">${row.days > 0 ? "+" : "−"}${Math.abs(row.days)}</span>`
      : nothing;
    const code = row.type === "group" ? nothing : html`<small>${row.code ?? ""}</small>`;
    return html`<div
      role="treeitem"
      id="tl-row-${i}"
      data-row=${i}
      class="tl-row ${row.type} ${row.kind ?? ""}${i === this.active ? " active" : ""}"
      aria-level=${row.depth + 1}
      aria-expanded=${row.fold ?? nothing}
      aria-selected=${i === this.active}
      aria-label=${this.lines(row).join(", ") || row.name}
      data-depth=${Math.min(row.depth, 6)}
    >
      ${fold}${mark}<span class="tl-name" data-open>${row.name}</span>${code}${days}
    </div>`;
  }

  paintTies(top, first, last) {
    return this.ties.map((t, k) => {
      const [a, b] = this.ends[k];
      if (a < 0 || b < 0 || a === b || Math.max(a, b) < first || Math.min(a, b) > last) return nothing;
      const x1 = this.scale.x(t.start + 1);
      const x2 = this.scale.x(t.finish);
      if (Math.max(x1, x2) < 0 || Math.min(x1, x2) > this.scale.width) return nothing;
      return this.tie(t, k, x1, x2, this.rows[a], this.rows[b], top);
    });
  }

  // tie leads from the end of one row to the start of another, around what stands between.
  tie(t, k, x1, x2, from, to, top) {
    const y1 = from.y - top + (from.type === "project" ? 26 : from.h / 2);
    const y2 = to.y - top + (to.type === "project" ? 28 : to.h / 2);
    const bend = Math.max(x1 + 6, Math.min(x1 + 6, x2 - 6));
    const under = y1 + (y2 > y1 ? from.h / 2 : -from.h / 2);
    const turn = x2 >= bend + 4 ? `${bend},${y2}` : `${bend},${under} ${x2 - 8},${under} ${x2 - 8},${y2}`;
    const cls = `tie${t.strained ? " strain" : ""}${t.giver === t.taker ? " own" : ""}`;
    const points = `${x1},${y1} ${bend},${y1} ${turn} ${x2},${y2}`;
    const head = `${x2 - 4},${y2 - 3} ${x2},${y2} ${x2 - 4},${y2 + 3}`;
    return svg`<g data-tie=${k}>
      <polyline class="tie-reach" points=${points}/><polyline class=${cls} points=${points}/><polyline class="${cls} head" points=${head}/>
    </g>`;
  }

  reveal() {
    const row = this.rows[this.active];
    if (!row) return;
    if (row.y < this.scroll.scrollTop) this.scroll.scrollTop = row.y;
    else if (row.y + row.h > this.scroll.scrollTop + this.view) this.scroll.scrollTop = row.y + row.h - this.view;
  }

  tell(row, x, y) {
    const list = row ? this.lines(row) : [];
    this.tip.hidden = list.length === 0;
    if (list.length === 0) return;
    render(
      list.map((l, i) => (i === 0 ? html`<b>${l}</b>` : html`<span>${l}</span>`)),
      this.tip,
    );
    const host = this.host.getBoundingClientRect();
    const at = this.scroll.getBoundingClientRect();
    const left = x === undefined ? NAMES + 20 : x - host.left + 16;
    const top = y === undefined ? at.top - host.top + row.y - this.scroll.scrollTop + row.h + 2 : y - host.top + 18;
    this.tip.style.left = `${Math.max(4, Math.min(left, host.width - this.tip.offsetWidth - 6))}px`;
    this.tip.style.top = `${top + this.tip.offsetHeight > host.height ? Math.max(0, top - this.tip.offsetHeight - row.h - 12) : top}px`;
  }

  hover(event) {
    if (event.buttons) {
      this.tip.hidden = true;
      return;
    }
    const tie = event.target.closest?.("[data-tie]");
    if (tie) {
      this.tip.hidden = false;
      render(this.ties[Number(tie.dataset.tie)].says, this.tip);
      const host = this.host.getBoundingClientRect();
      this.tip.style.left = `${Math.min(event.clientX - host.left + 14, host.width - this.tip.offsetWidth - 6)}px`;
      this.tip.style.top = `${event.clientY - host.top + 16}px`;
      return;
    }
    const row = this.rowAt(event);
    if (!row) return;
    if (row.type === "project" && row.milestones.length > 0) {
      const x = event.clientX - this.body.getBoundingClientRect().left;
      let best = null;
      for (const m of row.milestones) {
        const away = x - this.scale.x((m.bar[1] || m.bar[3]) + 1);
        if (away > -6 && away < 16 && (!best || Math.abs(away) < Math.abs(best.away))) best = { m, away };
      }
      if (best) {
        this.tell({ ...best.m, type: "activity", project: row.code, y: row.y, h: row.h }, event.clientX, event.clientY);
        return;
      }
    }
    this.tell(row, event.clientX, event.clientY);
  }

  rowAt(event) {
    const y = event.clientY - this.scroll.getBoundingClientRect().top + this.scroll.scrollTop;
    return this.rows?.[this.indexAt(y)];
  }

  say(text) {
    this.tip.hidden = false;
    render(text, this.tip);
    this.tip.style.left = "20px";
    this.tip.style.top = "60px";
  }

  pan(share) {
    this.scale.left += (share * this.scale.width) / this.scale.perDay;
  }

  fit(from, to) {
    if (!from) {
      const days = [];
      const see = (b) => days.push(...b.slice(0, 4).filter(Boolean));
      for (const p of this.data.projects ?? []) see(p.bar);
      for (const a of this.data.rows?.activities ?? []) see(a.bar);
      days.push(this.data.asOf);
      from = this.data.from || days.reduce((a, b) => Math.min(a, b));
      to = this.data.to || days.reduce((a, b) => Math.max(a, b)) + 1;
      if (to - from > 1827) [from, to] = [Math.max(from, this.data.asOf - 700), Math.min(to, this.data.asOf + 1127)];
      const pad = (to - from) * 0.02;
      from -= pad;
      to += pad * 3;
    }
    this.scale.fit(from, to);
    this.draw();
  }
}
