// Days and pixels. A day is a whole number, 1 being 0001-01-01, a Monday; it is drawn from its start to the start of the next.
const EPOCH = 719163; // 1970-01-01
const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

export const fromISO = (text) => Date.parse(`${text}T00:00:00Z`) / 864e5 + EPOCH;
const utc = (day) => new Date((day - EPOCH) * 864e5);
export const toISO = (day) => utc(day).toISOString().slice(0, 10);
export const human = (day) => {
  if (!day) return "–";
  const d = utc(day);
  return `${d.getUTCDate()} ${MONTHS[d.getUTCMonth()]} ${d.getUTCFullYear()}`;
};
const monthStart = (year, month) => Date.UTC(year, month, 1) / 864e5 + EPOCH;

export class Scale {
  // five years and a week are the limits of zooming
  constructor(width) {
    this.width = width;
    this.left = 0;
    this.perDay = 1;
  }
  get right() {
    return this.left + this.width / this.perDay;
  }
  x(day) {
    return (day - this.left) * this.perDay;
  }
  day(x) {
    return this.left + x / this.perDay;
  }
  limit(perDay) {
    return Math.min(this.width / 7, Math.max(this.width / 1830, perDay));
  }
  fit(from, to) {
    this.perDay = this.limit(this.width / Math.max(7, to - from));
    this.left = from;
    const spare = this.width / this.perDay - (to - from);
    if (spare > 0) this.left -= spare / 2;
  }
  zoom(factor, x) {
    const at = this.day(x);
    this.perDay = this.limit(this.perDay * factor);
    this.left = at - x / this.perDay;
  }
  // Lines and labels of the head: the upper row names the larger unit, the lower one the smaller.
  ticks() {
    const upper = [];
    const lower = [];
    const first = utc(Math.floor(this.left));
    let y = first.getUTCFullYear();
    let m = first.getUTCMonth();
    const years = this.perDay < 0.9;
    const step = this.perDay * 30 >= 11 ? 1 : this.perDay * 91 >= 14 ? 3 : 12;
    m -= m % step;
    for (let at = monthStart(y, m); at <= this.right;) {
      const next = monthStart(y, m + step);
      const wide = (next - at) * this.perDay;
      const name = MONTHS[m];
      if (this.perDay < 3.2) {
        const label = step === 1 ? (wide >= 26 ? name : name[0]) : step === 3 ? `Q${m / 3 + 1}` : "";
        lower.push({ at, next, label: wide > 10 ? label : "", strong: m === 0 });
      } else {
        upper.push({ at, next, label: `${name} ${y}` });
      }
      if (this.perDay < 3.2 && (m === 0 || at <= this.left)) upper.push({ at, next: monthStart(y + 1, 0), label: `${y}` });
      m += step;
      if (m > 11) {
        m -= 12;
        y += 1;
      }
      at = next;
    }
    if (this.perDay >= 3.2) {
      const daily = this.perDay >= 20;
      let at = Math.floor(this.left);
      if (!daily) at -= (at - 1) % 7;
      for (; at <= this.right; at += daily ? 1 : 7) {
        const d = utc(at);
        lower.push({
          at,
          next: at + (daily ? 1 : 7),
          label:
            this.perDay > 70 ? `${["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"][(at - 1) % 7]} ${d.getUTCDate()}` : `${d.getUTCDate()}`,
          strong: d.getUTCDate() <= (daily ? 1 : 7),
        });
      }
    }
    return { upper, lower, years };
  }
}
