// Minutes: one key makes an action or a decision of the line that the cursor stands in; the records come into being when they are saved.
const WORDS = { a: "action", d: "decision" };

function mark(area, word) {
  const { value, selectionStart: at } = area;
  const from = value.lastIndexOf("\n", at - 1) + 1;
  const end = value.indexOf("\n", at);
  const line = value.slice(from, end < 0 ? value.length : end);
  const bare = line.replace(/^(\s*(?:[-*]\s+)?)(?:action|decision)\s*:\s*/i, "$1");
  const had = new RegExp(`^\\s*(?:[-*]\\s+)?${word}\\s*:`, "i").test(line);
  const lead = /^\s*(?:[-*]\s+)?/.exec(bare)[0];
  const next = had ? bare : `${lead}${word}: ${bare.slice(lead.length)}`;
  area.setRangeText(next, from, from + line.length, "end");
  area.focus();
}

export function attachMinutes() {
  document.addEventListener("keydown", (event) => {
    const area = event.target.closest?.("[data-minutes]");
    const word = WORDS[event.key.toLowerCase()];
    if (!area || !word || !event.altKey || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    mark(area, word);
  });
  document.addEventListener("click", (event) => {
    const button = event.target.closest("[data-make]");
    if (button) mark(button.form.querySelector("[data-minutes]"), button.dataset.make);
  });
}
