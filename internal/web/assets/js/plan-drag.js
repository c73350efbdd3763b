// Changing a plan on its drawing: bars and their ends are dragged, links drawn from bar to bar.
import { nothing, svg } from "lit-html";
import { toISO } from "./scale.js";

// moveOf is the change that a drag by some days stands for.
export function moveOf(row, what, days) {
  const [start, finish, , , done] = row.bar;
  if (what === "progress") {
    const share = done + days / (finish + 1 - start);
    return { op: "set", code: row.code, field: "percent_complete", value: String(Math.round(100 * Math.min(1, Math.max(0, share)))) };
  }
  if (what === "begin") return { op: "begin", code: row.code, value: toISO(start + days) };
  const day = what === "finish" || row.kind === "milestone" ? row.bar[1] : row.bar[0];
  return { op: what === "finish" || row.kind === "milestone" ? "finish" : "shift", code: row.code, value: toISO(day + days) };
}

export class PlanDrag {
  // zone says what of a row the pointer is on: the bar, its end, or the ring from which a link is drawn.
  zone(event, row) {
    if (!row || row.type !== "activity" || row.kind === "summary") return null;
    const x = event.clientX - this.timeline.body.getBoundingClientRect().left;
    const [start, finish] = row.bar;
    if (!finish) return null;
    const end = this.timeline.scale.x(finish + 1);
    const begin = row.kind === "milestone" ? end : this.timeline.scale.x(start);
    if (x > end + (row.kind === "milestone" ? 15 : 3) && x < end + (row.kind === "milestone" ? 26 : 15))
      return { what: "link", cursor: "crosshair" };
    if (row.bar[4] >= 1) return null;
    if (row.kind !== "milestone") {
      const begun = Boolean(this.cellOf(row.code, "actual_start"));
      const done = begin + (end - begin) * row.bar[4];
      if (Math.abs(x - end) <= 4) return { what: "finish", cursor: "ew-resize" };
      if (begun && Math.abs(x - done) <= 4) return { what: "progress", cursor: "col-resize" };
      if (!begun && end - begin > 14 && Math.abs(x - begin) <= 4) return { what: "begin", cursor: "ew-resize" };
      if (begun) return x >= begin && x <= end ? { what: "progress", cursor: "col-resize" } : null; // what has begun stays where it began
    }
    if (x >= begin - 3 && x <= end + (row.kind === "milestone" ? 14 : 0)) return { what: "shift", cursor: "grab" };
    return null;
  }

  grab(event, row) {
    const zone = this.zone(event, row);
    if (!zone) return false;
    const body = this.timeline.body;
    const { scale } = this.timeline;
    const from = event.clientX;
    const box = body.getBoundingClientRect();
    body.setPointerCapture(event.pointerId);
    let days = 0;
    const move = (e) => {
      days = Math.round((e.clientX - from) / scale.perDay);
      if (zone.what === "link") {
        const y = row.y - this.timeline.scroll.scrollTop + row.h / 2;
        this.rubber = svg`<line class="tie strain" x1=${scale.x(row.bar[1] + 1) + 8} y1=${y} x2=${e.clientX - box.left} y2=${e.clientY - box.top}/>`;
      } else {
        this.drag = { key: row.key, what: zone.what, days };
      }
      this.timeline.draw();
    };
    const end = (e) => {
      body.removeEventListener("pointermove", move);
      this.rubber = null;
      this.drag = null;
      this.timeline.draw();
      if (e.type === "pointercancel") return;
      if (zone.what === "link") {
        const to = this.timeline.rowAt(e);
        if (to && to.key !== row.key && to.type === "activity") this.act({ op: "link", code: to.code, value: row.code });
      } else if (days !== 0) {
        this.act(moveOf(row, zone.what, days));
      }
    };
    body.addEventListener("pointermove", move);
    body.addEventListener("pointerup", end, { once: true });
    body.addEventListener("pointercancel", end, { once: true });
    event.preventDefault();
    return true;
  }

  cellOf(code, field) {
    return this.table?.find((r) => r.code === code)?.[field];
  }

  // Comma and full stop move the activity by a working day; with the shift key they stretch it.
  key(event, row) {
    const step = { ",": -1, ".": 1, "<": -1, ">": 1, ";": -1, ":": 1 }[event.key];
    if (!step || !row || row.type !== "activity" || row.kind === "summary" || row.bar[4] >= 1) return false;
    let days = step;
    const what = event.shiftKey ? "finish" : "shift";
    const day = what === "finish" || row.kind === "milestone" ? row.bar[1] : row.bar[0];
    while (!this.timeline.worked(day + days)) days += step;
    this.act(moveOf(row, what, days));
    return true;
  }

  // overlay is what is drawn over a row that can be changed: the ring for links, the mark of what moved, and what is being dragged.
  overlay(row, y) {
    if (!row.bar[1]) return nothing;
    const middle = y + row.h / 2;
    const ring = row.type === "activity" && row.kind !== "summary";
    const x = this.timeline.scale.x(row.bar[1] + 1) + (row.kind === "milestone" ? 20 : 9);
    return [
      ring ? svg`<circle class="ring" cx=${x.toFixed(1)} cy=${middle} r="3.5"/>` : nothing,
      this.moved?.has(row.code) ? svg`<circle class="moved" cx="4" cy=${middle} r="3"/>` : nothing,
      this.drag?.key === row.key ? this.dragged(row, y) : nothing,
    ];
  }

  dragged(row, y) {
    const { scale } = this.timeline;
    const [start, finish] = row.bar;
    const { what, days: by } = this.drag;
    const whole = what === "finish" || row.kind === "milestone";
    const x1 = scale.x((row.kind === "milestone" ? finish : start) + (what === "finish" || what === "progress" ? 0 : by));
    const x2 =
      what === "progress" ? scale.x(start + (finish + 1 - start) * row.bar[4] + by) : scale.x(finish + 1 + (what === "begin" ? 0 : by));
    const says = what === "progress" ? `${moveOf(row, what, by).value} %` : toISO(whole ? finish + by : start + by);
    return svg`<rect class="dragged" x=${x1} y=${y + 3} width=${Math.max(3, x2 - x1)} height=${row.h - 7}/>
      <text class="label" x=${x2 + 5} y=${y + row.h / 2 + 4}>${says}</text>`;
  }
}
