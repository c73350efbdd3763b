// The timeline: rows that are drawn only where they are seen, over an axis that zooms from five years to a week.
import { HEIGHT, bar, blocked, flags, safe } from "./bars.js";
import { Scale, human } from "./scale.js";

const HEAD = 44;
const NAMES = 300;
const SPANS = [
  ["Week", 7],
  ["Month", 31],
  ["Quarter", 92],
  ["Year", 366],
  ["2 years", 731],
  ["5 years", 1827],
];

export class Timeline {
  constructor(host, options = {}) {
    this.host = host;
    this.options = options;
    this.open = new Set(options.open ?? []);
    this.shut = new Set();
    this.loaded = new Map();
    this.active = 0;
    this.build();
  }

  build() {
    const still = this.host.querySelector("[data-tl-still]");
    const tools = this.host.querySelector("[data-tl-tools]");
    tools.hidden = false;
    tools.innerHTML = `<span class="soft">Show</span>${SPANS.map(([name, days]) => `<button type="button" data-span="${days}">${name}</button>`).join("")}<button type="button" data-fit>All</button><button type="button" data-zoom="1.5" aria-label="Zoom in">+</button><button type="button" data-zoom="0.667" aria-label="Zoom out">−</button>${this.options.plan ? "" : '<button type="button" data-unfold>Unfold all</button>'}<label class="soft"><input type="checkbox" data-ties checked> dependencies</label><span class="soft push">over the months, or with Ctrl, the wheel zooms</span>`;
    still.outerHTML = `<div class="tl-grid"><div class="tl-corner"></div><svg class="scene tl-head" aria-hidden="true"></svg><div class="tl-scroll"><div class="tl-space"><div class="tl-pane"><div class="tl-names" role="tree" tabindex="0" aria-label="${this.options.plan ? "Activities" : "Projects and activities"}"></div><svg class="scene tl-body" aria-hidden="true"></svg></div></div></div></div><div class="tl-tip" role="status" hidden></div>`;
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
    this.data = data;
    this.week = data.week;
    this.off = new Set(data.off);
    this.on = new Set(data.on);
    this.flatten();
    this.resize();
    if (!keep) this.fit();
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
    this.space.style.height = `${y + 8}px`;
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

  async fold(row) {
    if (!row || row.fold === undefined) return;
    if (row.type === "activity") {
      if (this.shut.has(row.key)) this.shut.delete(row.key);
      else this.shut.add(row.key);
    } else if (this.open.has(row.code)) {
      this.open.delete(row.code);
    } else {
      this.open.add(row.code);
      if (!this.loaded.has(row.code)) this.fetchRows(row);
    }
    this.flatten();
    this.resize();
  }

  async fetchRows(row) {
    try {
      const answer = await fetch(row.rows, { headers: { Accept: "application/json" } });
      if (!answer.ok) throw new Error(String(answer.status));
      this.loaded.set(row.code, await answer.json());
    } catch {
      this.open.delete(row.code);
      this.say("Its activities did not arrive. Unfold the project to try again.");
    }
    this.flatten();
    this.resize();
  }

  say(text) {
    this.tip.hidden = false;
    this.tip.textContent = text;
    this.tip.style.left = "20px";
    this.tip.style.top = "60px";
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

  resize() {
    const width = Math.max(200, this.host.clientWidth - this.names.offsetWidth - 14);
    if (width !== this.scale.width) {
      const right = this.scale.right;
      this.scale.width = width;
      this.scale.perDay = this.scale.limit(width / Math.max(7, right - this.scale.left));
    }
    const top = this.scroll.getBoundingClientRect().top + scrollY;
    const most = this.options.height ?? Math.max(260, innerHeight - top - 14);
    this.view = Math.min(most, Math.max(120, (this.total ?? 0) + 8));
    this.scroll.style.height = `${this.view}px`;
    this.pane.style.height = `${this.view}px`;
    this.draw();
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

  rowAt(event) {
    const y = event.clientY - this.scroll.getBoundingClientRect().top + this.scroll.scrollTop;
    return this.rows?.[this.indexAt(y)];
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

  pan(share) {
    this.scale.left += (share * this.scale.width) / this.scale.perDay;
  }

  reveal() {
    const row = this.rows[this.active];
    if (!row) return;
    if (row.y < this.scroll.scrollTop) this.scroll.scrollTop = row.y;
    else if (row.y + row.h > this.scroll.scrollTop + this.view) this.scroll.scrollTop = row.y + row.h - this.view;
  }

  // enter opens the details of a row in the margin; of a project, its page.
  enter(row) {
    if (!row || row.type === "group") return;
    if (row.type === "project") {
      location.assign(row.href);
      return;
    }
    const asof = new URLSearchParams(location.search).get("asof");
    const address = `/projects/${encodeURIComponent(row.project)}?${asof ? `asof=${asof}&` : ""}trace=milestone&milestone=${encodeURIComponent(row.code)}`;
    window.htmx.ajax("GET", address, { target: "#margin", source: this.names });
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

  tell(row, x, y) {
    const list = row ? this.lines(row) : [];
    this.tip.hidden = list.length === 0;
    if (list.length === 0) return;
    this.tip.innerHTML = list.map((l, i) => (i === 0 ? `<b>${safe(l)}</b>` : `<span>${safe(l)}</span>`)).join("");
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
      this.tip.textContent = this.ties[Number(tie.dataset.tie)].says;
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
    let names = "";
    let out = this.ground(w, view);
    for (let i = first; i < last; i++) {
      const row = this.rows[i];
      const y = row.y - top;
      names += this.name(row, i);
      out += `<line class="grid" x1="0" y1="${y + row.h - 0.5}" x2="${w}" y2="${y + row.h - 0.5}"/>`;
      if (i === this.active && document.activeElement === this.names)
        out += `<rect class="wash" x="0" y="${y}" width="${w}" height="${row.h - 1}"/>`;
      if (row.type === "group") continue;
      const event = row.kind === "milestone";
      if (!event) out += bar(scale, row, y);
      if (row.type === "project") out += flags(scale, row.milestones, y + 26, 15);
      if (event) out += flags(scale, [row], y + 20, 14, false); // its name stands at the left
      out += blocked(scale, row, y);
      out += this.options.overlay?.(row, y, scale) ?? "";
    }
    if (this.tools.querySelector("[data-ties]").checked) out += this.paintTies(top, first, last);
    const now = scale.x(this.data.asOf + 1);
    if (now > 0 && now < w) out += `<line class="asof" x1="${now}" y1="0" x2="${now}" y2="${view}"/>`;
    this.body.setAttribute("width", w);
    this.body.setAttribute("height", view);
    this.body.innerHTML = out + (this.options.paint?.(scale) ?? "");
    this.names.innerHTML = names;
    if (first < last) this.names.firstElementChild.style.marginTop = `${this.rows[first].y - top}px`;
    if (this.active >= first && this.active < last) this.names.setAttribute("aria-activedescendant", `tl-row-${this.active}`);
    else this.names.removeAttribute("aria-activedescendant");
    this.options.painted?.();
  }

  // Days that are not worked are shaded as soon as they can be told apart, holidays a little sooner.
  ground(w, view) {
    const { scale } = this;
    let out = "";
    if (scale.perDay >= 2) {
      const alone = scale.perDay < 2.5;
      for (let d = Math.floor(scale.left); d <= scale.right; d++) {
        if (d > 0 && !this.worked(d) && (!alone || this.off.has(d)))
          out += `<rect class="idle" x="${scale.x(d).toFixed(1)}" y="0" width="${scale.perDay.toFixed(2)}" height="${view}"/>`;
      }
    }
    for (const t of this.ticks.lower) {
      const x = scale.x(t.at);
      if (x >= 0 && x <= w)
        out += `<line class="${t.strong ? "grid-strong" : "grid"}" x1="${x.toFixed(1)}" y1="0" x2="${x.toFixed(1)}" y2="${view}"/>`;
    }
    return out;
  }

  paintHead(w) {
    const { scale } = this;
    this.ticks = scale.ticks();
    let out = "";
    for (const t of this.ticks.upper) {
      const x = Math.max(2, scale.x(t.at) + 3);
      if (Math.min(w, scale.x(t.next)) - x > 34) out += `<text class="label" x="${x.toFixed(1)}" y="14">${t.label}</text>`;
    }
    for (const t of this.ticks.lower) {
      const x = scale.x(t.at);
      const wide = (t.next - t.at) * scale.perDay;
      if (x > -wide && x < w && t.label && wide > t.label.length * 5.5)
        out += `<text class="label-soft" text-anchor="middle" x="${(x + wide / 2).toFixed(1)}" y="32">${t.label}</text>`;
      if (x >= 0 && x <= w) out += `<line class="grid" x1="${x.toFixed(1)}" y1="20" x2="${x.toFixed(1)}" y2="${HEAD}"/>`;
    }
    const now = scale.x(this.data.asOf + 1);
    if (now > 0 && now < w) out += `<line class="asof" x1="${now}" y1="36" x2="${now}" y2="${HEAD}"/>`;
    this.head.setAttribute("width", w);
    this.head.setAttribute("height", HEAD);
    this.head.innerHTML = out;
  }

  name(row, i) {
    const inner = row.fold === undefined ? "" : `<span class="tl-fold" data-fold aria-hidden="true">${row.fold ? "▾" : "▸"}</span>`;
    const label = this.lines(row).join(", ") || row.name;
    const mark =
      row.type === "project" ? `<svg class="scene" width="14" height="14" aria-hidden="true">${healthMark(row.health)}</svg>` : "";
    const days = row.days
      ? `<span class="tl-days${row.days > 0 ? " late" : ""}">${row.days > 0 ? "+" : "−"}${Math.abs(row.days)}</span>`
      : "";
    const code = row.type === "group" ? "" : `<small>${safe(row.code ?? "")}</small>`;
    return `<div role="treeitem" id="tl-row-${i}" data-row="${i}" class="tl-row ${row.type} ${row.kind ?? ""}${i === this.active ? " active" : ""}" aria-level="${row.depth + 1}"${row.fold === undefined ? "" : ` aria-expanded="${row.fold}"`} aria-selected="${i === this.active}" aria-label="${safe(label)}" data-depth="${Math.min(row.depth, 6)}">${inner}${mark}<span class="tl-name" data-open>${safe(row.name)}</span>${code}${days}</div>`;
  }

  paintTies(top, first, last) {
    const { scale } = this;
    let out = "";
    this.ties.forEach((t, k) => {
      const [a, b] = this.ends[k];
      if (a < 0 || b < 0 || a === b || Math.max(a, b) < first || Math.min(a, b) > last) return;
      const x1 = scale.x(t.start + 1);
      const x2 = scale.x(t.finish);
      if (Math.max(x1, x2) < 0 || Math.min(x1, x2) > scale.width) return;
      const from = this.rows[a];
      const to = this.rows[b];
      const y1 = from.y - top + (from.type === "project" ? 26 : from.h / 2);
      const y2 = to.y - top + (to.type === "project" ? 28 : to.h / 2);
      const bend = Math.max(x1 + 6, Math.min(x1 + 6, x2 - 6));
      const turn =
        x2 >= bend + 4
          ? `${bend},${y2}`
          : `${bend},${y1 + (y2 > y1 ? from.h / 2 : -from.h / 2)} ${x2 - 8},${y1 + (y2 > y1 ? from.h / 2 : -from.h / 2)} ${x2 - 8},${y2}`;
      const cls = `tie${t.strained ? " strain" : ""}${t.giver === t.taker ? " own" : ""}`;
      const points = `${x1},${y1} ${bend},${y1} ${turn} ${x2},${y2}`;
      out += `<g data-tie="${k}"><polyline class="tie-reach" points="${points}"/><polyline class="${cls}" points="${points}"/><polyline class="${cls} head" points="${x2 - 4},${y2 - 3} ${x2},${y2} ${x2 - 4},${y2 + 3}"/></g>`;
    });
    return out;
  }
}

function healthMark(health) {
  return (
    {
      "on-track": '<rect class="on-track" x="1" y="5" width="11" height="5"/>',
      watch: '<line class="watch" x1="2" y1="13" x2="2" y2="1"/><polygon class="watch" points="2,1 13,5 2,9"/>',
      act: '<line class="act" x1="2" y1="13" x2="2" y2="1"/><polygon class="act" points="2,1 13,1 10,5 13,9 2,9"/>',
    }[health] ?? '<rect class="none" x="1.5" y="3" width="11" height="7"/>'
  );
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
    still.insertAdjacentHTML(
      "beforebegin",
      '<p class="problem" role="alert">The live timeline did not arrive; below is the still one. <a href="">Try again</a></p>',
    );
    return;
  }
  const timeline = new Timeline(host);
  timeline.take(data);
  host.timeline = timeline;
  host.dataset.ready = "yes";
}
