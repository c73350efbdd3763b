// Draws one row of the timeline: the same shapes as the drawing on paper.
import { nothing, svg } from "lit-html";

export const HEIGHT = { group: 28, project: 40, work: 26, summary: 26, milestone: 26, deliverable: 26 };
const SYMBOL = 100; // how high the marks are that the page holds
const n = (v) => v.toFixed(1);

// pennant is the mark of a status with its foot at x and y, as the page holds it.
export function pennant(x, y, h, flag = "none") {
  return svg`<use class=${flag} href="#pennant-${flag}" transform="translate(${n(x)} ${n(y)}) scale(${h / SYMBOL})"/>`;
}

// raised is the mark of a milestone: that of its status on a staff, which a level bar has none of by itself.
function raised(x, y, h, flag) {
  const mark = pennant(x, y, h, flag);
  return flag === "on-track" ? svg`${mark}<line class="on-track" x1=${n(x)} y1=${n(y)} x2=${n(x)} y2=${n(y - h * 0.68)}/>` : mark;
}

// The mark stands at the end of what an issue blocks, past its pennant where it is a milestone: a box that is crossed.
export function blocked(scale, row, y) {
  const end = Math.max(row.bar[1] || 0, row.bar[3] || 0);
  const at = end ? scale.x(end + 1) : -1;
  if (!row.blocked || at < 0 || at > scale.width) return nothing;
  const x = at + (row.kind === "milestone" ? 17 : 3);
  return svg`<rect class="blocked" x=${n(x)} y=${n(y + 8)} width="8" height="8"/><path class="blocked" d="M${n(x)} ${n(y + 8)}l8 8m-8 0l8 -8"/>`;
}

function rect(cls, x1, x2, y, h) {
  return x2 > x1 ? svg`<rect class=${cls} x=${n(x1)} y=${n(y)} width=${n(x2 - x1)} height=${h}/>` : nothing;
}

export function bar(scale, row, y) {
  const [start, finish, baseStart, baseFinish, done] = row.bar;
  const clip = (x) => Math.max(-20, Math.min(scale.width + 20, x));
  const tall = row.type === "project";
  const top = tall ? y + 26 : y + 6;
  const thick = tall ? 5 : 11;
  const baseline =
    baseStart && baseFinish >= baseStart
      ? rect("baseline", clip(scale.x(baseStart)), clip(scale.x(baseFinish + 1)), top + thick + 2, 3)
      : nothing;
  if (!start || finish < start) return baseline;
  const x1 = scale.x(start);
  const x2 = scale.x(finish + 1);
  const cut = x1 + (x2 - x1) * done;
  const cls = row.kind === "deliverable" ? " handover" : "";
  const middle = top + thick / 2;
  return svg`${baseline}${rect(`work-left${cls}`, clip(cut), clip(x2), top, thick)}${rect(`work-done${cls}`, clip(x1), clip(cut), top, thick)}${
    row.critical && done < 1 ? svg`<line class="critical" x1=${n(clip(cut))} y1=${middle} x2=${n(clip(x2))} y2=${middle}/>` : nothing
  }`;
}

// The pennants of a row stand at their dates, joined to the tick of the baseline; labels where there is room.
export function flags(scale, list, foot, h, named = true) {
  const seen = list
    .map((m) => ({ m, x: scale.x((m.bar[1] || m.bar[3]) + 1) }))
    .filter(({ m, x }) => (m.bar[1] || m.bar[3]) && x > -60 && x < scale.width + 60)
    .sort((a, b) => a.x - b.x);
  return seen.map(({ m, x }, i) => flag(scale, m, x, foot, h, named ? (seen[i + 1]?.x ?? scale.width) : 0));
}

// flag is one milestone, with its name where that ends before the next.
function flag(scale, m, x, foot, h, next) {
  const done = m.state === "done" || m.state === "done late";
  const status = m.flag || "on-track";
  const text = m.days ? `${m.name} ${m.days > 0 ? "+" : "−"}${Math.abs(m.days)}` : m.name;
  const room = next - x - (done ? 8 : h + 4);
  return svg`${m.bar[3] ? planned(scale, m, x, foot, status) : nothing}${m.middle ? odds(scale, m, foot) : nothing}${
    done ? svg`<circle class="dot" cx=${n(x)} cy=${foot} r="3.6"/>` : raised(x, foot, h, status)
  }${room > text.length * 5.6 ? svg`<text class="label-soft" x=${n(x + (done ? 6 : h + 1))} y=${foot - 5}>${text}</text>` : nothing}`;
}

// planned is the tick of a milestone's baseline and the way from there.
function planned(scale, m, x, foot, status) {
  const at = Math.max(-20, Math.min(scale.width + 20, scale.x(m.bar[3] + 1)));
  const way = Math.abs(at - x) > 0.5 ? svg`<line class=${status} x1=${n(at)} y1=${foot} x2=${n(x)} y2=${foot}/>` : nothing;
  return svg`<line class="tick" x1=${n(at)} y1=${foot - 3} x2=${n(at)} y2=${foot + 3}/>${way}`;
}

// odds reaches from the day by which even odds are to that of four in five.
function odds(scale, m, foot) {
  const from = scale.x(m.middle + 1);
  return svg`<rect class="odds" x=${n(from)} y=${foot + 2} width=${n(Math.max(scale.x(m.late + 1) - from, 2))} height="4"/>`;
}
