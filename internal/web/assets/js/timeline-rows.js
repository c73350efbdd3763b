// The rows of a timeline: groups of projects, or the activities of one, as far as they are unfolded, with where each stands and what is said
// of it. Nothing here touches the page.
import { HEIGHT } from "./bars.js";
import { human } from "./scale.js";

export class TimelineRows {
  constructor(options = {}) {
    this.options = options;
    this.open = new Set(options.open ?? []); // projects whose activities are shown, by their codes
    this.shut = new Set(); // activities whose parts are not, by their keys
    this.loaded = new Map();
    this.active = 0;
  }

  // hold takes data in.
  hold(data) {
    this.data = data;
    this.week = data.week;
    this.off = new Set(data.off);
    this.on = new Set(data.on);
    this.flatten();
  }

  worked(day) {
    return this.on.has(day) || (this.week[(day - 1) % 7] && !this.off.has(day));
  }

  flatten() {
    const rows = [];
    for (const group of this.data.groups ?? []) {
      if (group.name) rows.push({ type: "group", name: group.name, key: `g ${group.name}`, depth: 0 });
      for (const i of group.projects) {
        const p = this.data.projects[i];
        rows.push({ ...p, type: "project", key: p.code, depth: 0, fold: p.count > 0 ? this.open.has(p.code) : undefined });
        if (this.open.has(p.code)) this.below(rows, p.code, this.loaded.get(p.code), 1, group.party);
      }
    }
    if (this.data.rows) this.below(rows, this.data.code, this.data.rows, 0);
    let y = 0;
    for (const row of rows) {
      row.y = y;
      row.h = HEIGHT[row.type === "activity" ? row.kind : row.type];
      y += row.h;
    }
    this.rows = rows;
    this.total = y;
    this.at = new Map();
    rows.forEach((row, i) => {
      if (!this.at.has(row.key)) this.at.set(row.key, i);
    });
    this.active = Math.min(this.active, Math.max(0, rows.length - 1));
    this.ties = (this.data.ties ?? []).concat(
      ...[...this.open].map((code) => this.loaded.get(code)?.ties ?? []),
      this.data.rows?.ties ?? [],
    );
    const place = (project, code) => this.at.get(`${project} ${code}`) ?? this.at.get(project) ?? -1;
    this.ends = this.ties.map((t) => [place(t.giver, t.from), place(t.taker, t.to)]);
  }

  // turn folds or unfolds a row, and reports whether its activities are to be fetched.
  turn(row) {
    if (row.type === "activity") {
      if (this.shut.has(row.key)) this.shut.delete(row.key);
      else this.shut.add(row.key);
    } else if (this.open.has(row.code)) {
      this.open.delete(row.code);
    } else {
      this.open.add(row.code);
      return !this.loaded.has(row.code);
    }
    return false;
  }

  below(rows, project, loaded, depth, party) {
    if (!loaded) {
      rows.push({ type: "activity", kind: "work", name: "fetching…", key: `${project} …`, depth, bar: [0, 0, 0, 0, 0], project });
      return;
    }
    const list = party ? loaded.activities.filter((a) => a.party === party) : loaded.activities;
    const children = new Map();
    const codes = new Set(list.map((a) => a.code));
    for (const a of list) {
      const up = codes.has(a.parent) && a.parent !== a.code ? a.parent : "";
      if (!children.has(up)) children.set(up, []);
      children.get(up).push(a);
    }
    const seen = new Set();
    const add = (up, level) => {
      for (const a of children.get(up) ?? []) {
        if (seen.has(a.code)) continue;
        seen.add(a.code);
        const key = `${project} ${a.code}`;
        const folds = children.has(a.code);
        rows.push({ ...a, type: "activity", key, project, depth: level, fold: folds ? !this.shut.has(key) : undefined });
        if (folds && !this.shut.has(key)) add(a.code, level + 1);
      }
    };
    add("", depth);
    for (const a of list)
      if (!seen.has(a.code) && !codes.has(a.parent)) rows.push({ ...a, type: "activity", key: `${project} ${a.code}`, project, depth });
  }

  indexAt(y) {
    let lo = 0;
    let hi = this.rows.length;
    while (lo < hi) {
      const mid = (lo + hi) >> 1;
      if (this.rows[mid].y + this.rows[mid].h <= y) lo = mid + 1;
      else hi = mid;
    }
    return lo;
  }

  lines(row) {
    if (row.type === "group") return [];
    const [start, finish, , baseFinish] = row.bar;
    const list = [`${row.code ?? ""} ${row.name}`.trim()];
    if (row.type === "project") {
      list.push([row.lead && `lead ${row.lead}`, row.driven ? "dated by its links" : ""].filter(Boolean).join("; "));
    } else {
      list.push([row.state, row.level && `reported to ${row.level}`, row.party || row.owner].filter(Boolean).join(", "));
    }
    list.push(start && start !== finish ? `${human(start)} to ${human(finish)}` : human(finish));
    if (baseFinish) {
      const days = row.days ?? 0;
      list.push(
        `baseline ${human(baseFinish)}${row.days === undefined ? "" : days === 0 ? ", on it" : `, ${Math.abs(days)} working day${Math.abs(days) === 1 ? "" : "s"} ${days > 0 ? "later" : "earlier"}`}`,
      );
    }
    if (row.float !== undefined && row.float !== null) list.push(`float ${row.float} working days${row.critical ? ", critical" : ""}`);
    if (row.middle) list.push(`even odds by ${human(row.middle)}, four in five by ${human(row.late)}`);
    if (row.why) list.push(row.why);
    if (row.blocked) list.push(row.blocked);
    if (row.fault) list.push(row.fault);
    return list.filter(Boolean);
  }
}
