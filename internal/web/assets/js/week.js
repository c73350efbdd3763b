// The sums of a week sheet follow what is typed.
function hours(text) {
  const clean = text.trim().replace("\u2212", "-").replace(",", ".");
  const clock = /^(-?)(\d{1,2}):(\d\d)$/.exec(clean);
  const n = clock ? (clock[1] ? -1 : 1) * (Number(clock[2]) + Number(clock[3]) / 60) : Number(clean || 0);
  return Number.isFinite(n) ? n : 0;
}

const shown = (n) => (n === 0 ? "" : String(Math.round(n * 10000) / 10000));

function add(form) {
  const heads = [...form.querySelectorAll("thead th[data-has]")];
  const days = heads.map(() => 0);
  for (const row of form.querySelectorAll("tbody tr")) {
    const cells = [...row.querySelectorAll("td.num:has(> [inputmode=decimal]), td[data-fixed]")];
    let sum = 0;
    cells.forEach((cell, i) => {
      const n = hours(cell.querySelector("input")?.value ?? cell.textContent);
      days[i] += n;
      sum += n;
    });
    const out = row.querySelector("[data-row-sum]");
    if (out) out.textContent = shown(sum);
  }
  form.querySelectorAll("tfoot [data-day-sum]").forEach((cell, i) => {
    cell.textContent = shown(days[i]);
    cell.classList.toggle("over", days[i] > Number(heads[i].dataset.has) / 10000);
  });
  form.querySelector("tfoot [data-sum]").textContent = shown(days.reduce((a, b) => a + b, 0));
}

export function attachWeek() {
  const form = document.querySelector("form[data-week]");
  form?.addEventListener("input", () => add(form));
  form?.addEventListener("paste", () => add(form));
}
