// Draws one row of the timeline as SVG text: the same shapes as the drawing on paper.
export const HEIGHT = { group: 28, project: 40, work: 26, summary: 26, milestone: 26, deliverable: 26 };
const safe = (text) => String(text).replace(/[&<>"]/g, (c) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" })[c]);
const n = (v) => v.toFixed(1);
export { safe };

// pennant is the mark of a status with its foot at x and y, as the pages draw it.
export function pennant(x, y, h, flag) {
  const w = h * 0.95;
  if (flag === "on-track") return `<rect class="on-track" x="${n(x)}" y="${n(y - h * 0.68)}" width="${n(w)}" height="${n(h * 0.38)}"/>`;
  const staff = `<line class="${flag}" x1="${n(x)}" y1="${n(y)}" x2="${n(x)}" y2="${n(y - h)}"/>`;
  if (flag === "watch")
    return `${staff}<polygon class="watch" points="${n(x)},${n(y - h)} ${n(x + w)},${n(y - h * 0.66)} ${n(x)},${n(y - h * 0.32)}"/>`;
  if (flag === "act")
    return `${staff}<polygon class="act" points="${n(x)},${n(y - h)} ${n(x + w)},${n(y - h)} ${n(x + w * 0.7)},${n(y - h * 0.66)} ${n(x + w)},${n(y - h * 0.32)} ${n(x)},${n(y - h * 0.32)}"/>`;
  return `<rect class="none" x="${n(x)}" y="${n(y - h * 0.75)}" width="${n(w)}" height="${n(h * 0.5)}"/>`;
}

// raised is the mark of a milestone: that of its status on a staff, which a level bar has none of by itself.
function raised(x, y, h, flag) {
  const staff = `<line class="on-track" x1="${n(x)}" y1="${n(y)}" x2="${n(x)}" y2="${n(y - h * 0.68)}"/>`;
  return pennant(x, y, h, flag) + (flag === "on-track" ? staff : "");
}

// A box that is crossed: an issue blocks it.
function block(x, y) {
  const w = 8;
  const line = (y1, y2) => `<line class="blocked" x1="${n(x)}" y1="${n(y1)}" x2="${n(x + w)}" y2="${n(y2)}"/>`;
  return `<rect class="blocked" x="${n(x)}" y="${n(y - w / 2)}" width="${w}" height="${w}"/>${line(y - w / 2, y + w / 2)}${line(y + w / 2, y - w / 2)}`;
}

// The mark stands at the end of what an issue blocks, past its pennant where it is a milestone.
export function blocked(scale, row, y) {
  const end = Math.max(row.bar[1] || 0, row.bar[3] || 0);
  const x = end ? scale.x(end + 1) : -1;
  if (!row.blocked || x < 0 || x > scale.width) return "";
  return block(x + (row.kind === "milestone" ? 17 : 3), y + 12);
}

const rect = (cls, x1, x2, y, h) => (x2 > x1 ? `<rect class="${cls}" x="${n(x1)}" y="${n(y)}" width="${n(x2 - x1)}" height="${h}"/>` : "");

export function bar(scale, row, y) {
  const [start, finish, baseStart, baseFinish, done] = row.bar;
  const clip = (x) => Math.max(-20, Math.min(scale.width + 20, x));
  const tall = row.type === "project";
  const top = tall ? y + 26 : y + 6;
  const thick = tall ? 5 : 11;
  let out = "";
  if (baseStart && baseFinish >= baseStart)
    out += rect("baseline", clip(scale.x(baseStart)), clip(scale.x(baseFinish + 1)), top + thick + 2, 3);
  if (!start || finish < start) return out;
  const x1 = scale.x(start);
  const x2 = scale.x(finish + 1);
  const cut = x1 + (x2 - x1) * done;
  const cls = row.kind === "deliverable" ? " handover" : "";
  out += rect(`work-left${cls}`, clip(cut), clip(x2), top, thick) + rect(`work-done${cls}`, clip(x1), clip(cut), top, thick);
  if (row.critical && done < 1)
    out += `<line class="critical" x1="${n(clip(cut))}" y1="${top + thick / 2}" x2="${n(clip(x2))}" y2="${top + thick / 2}"/>`;
  return out;
}

// The pennants of a row stand at their dates, joined to the tick of the baseline; labels where there is room.
export function flags(scale, list, foot, h, named = true) {
  const seen = list
    .map((m) => ({ m, x: scale.x((m.bar[1] || m.bar[3]) + 1) }))
    .filter(({ m, x }) => (m.bar[1] || m.bar[3]) && x > -60 && x < scale.width + 60)
    .sort((a, b) => a.x - b.x);
  let out = "";
  seen.forEach(({ m, x }, i) => {
    const done = m.state === "done" || m.state === "done late";
    const flag = m.flag || "on-track";
    if (m.bar[3]) {
      const b = Math.max(-20, Math.min(scale.width + 20, scale.x(m.bar[3] + 1)));
      out += `<line class="tick" x1="${n(b)}" y1="${foot - 3}" x2="${n(b)}" y2="${foot + 3}"/>`;
      if (Math.abs(b - x) > 0.5) out += `<line class="${flag}" x1="${n(b)}" y1="${foot}" x2="${n(x)}" y2="${foot}"/>`;
    }
    if (m.middle) {
      const from = scale.x(m.middle + 1);
      out += `<rect class="odds" x="${n(from)}" y="${foot + 2}" width="${n(Math.max(scale.x(m.late + 1) - from, 2))}" height="4"/>`;
    }
    out += done ? `<circle class="dot" cx="${n(x)}" cy="${foot}" r="3.6"/>` : raised(x, foot, h, flag);
    const room = (seen[i + 1]?.x ?? scale.width) - x - (done ? 8 : h + 4);
    const text = m.days ? `${m.name} ${m.days > 0 ? "+" : "−"}${Math.abs(m.days)}` : m.name;
    if (named && room > text.length * 5.6)
      out += `<text class="label-soft" x="${n(x + (done ? 6 : h + 1))}" y="${foot - 5}">${safe(text)}</text>`;
  });
  return out;
}
