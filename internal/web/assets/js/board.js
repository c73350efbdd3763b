// A board of cards: carried to another column by the mouse, or with Shift and an arrow where one has the focus. The arrows alone lead from
// card to card. Columns fold, and stay as they were left.
import Sortable from "sortablejs";

const FOLDED = "turret-folded";

function remembered() {
  try {
    return JSON.parse(localStorage.getItem(FOLDED) ?? "{}");
  } catch {
    return {};
  }
}

// carry sends a card to another state; the page that answers says what came of it, or why not.
function carry(board, card, from, to) {
  if (!to || to === from) return;
  const form = document.createElement("form");
  form.method = "post";
  form.action = board.dataset.board;
  const fields = {
    _csrf: board.dataset.token,
    kind: card.dataset.kind,
    holder: card.dataset.holder,
    code: card.dataset.code,
    was: from,
    state: to,
  };
  fields.back = board.dataset.back;
  for (const [name, value] of Object.entries(fields)) {
    const input = document.createElement("input");
    Object.assign(input, { type: "hidden", name, value });
    form.append(input);
  }
  sessionStorage.setItem("turret-card", `${card.dataset.holder}:${card.dataset.code}`);
  document.body.append(form);
  form.submit();
}

function fold(column, folded) {
  column.classList.toggle("folded", folded);
  column.querySelector(".fold").setAttribute("aria-expanded", String(!folded));
}

// step leads the focus to the card beside, past columns that are folded or empty.
function step(board, card, key) {
  const cards = (column) => [...column.querySelectorAll(".card-slip")];
  const columns = [...board.querySelectorAll(".board-column:not(.folded)")].filter((c) => cards(c).length > 0);
  const column = card.closest(".board-column");
  const at = cards(column).indexOf(card);
  if (key === "ArrowUp" || key === "ArrowDown") {
    cards(column)[at + (key === "ArrowDown" ? 1 : -1)]?.focus();
    return;
  }
  const beside = columns[columns.indexOf(column) + (key === "ArrowRight" ? 1 : -1)];
  if (beside) cards(beside)[Math.min(at, cards(beside).length - 1)].focus();
}

function onKey(board, event) {
  const card = event.target.closest(".card-slip");
  if (!card || event.target !== card) return;
  if (event.key === "Enter") {
    card.querySelector("a").click();
  } else if (!event.key.startsWith("Arrow") || event.ctrlKey || event.altKey) {
    return;
  } else if (event.shiftKey) {
    const to = { ArrowRight: card.dataset.next, ArrowLeft: card.dataset.before }[event.key];
    if (board.dataset.board) carry(board, card, card.closest(".board-column").dataset.state, to);
  } else {
    step(board, card, event.key);
  }
  event.preventDefault();
  event.stopPropagation();
}

function attach(board) {
  if (board.dataset.attached) return;
  board.dataset.attached = "yes";
  const folded = remembered();
  for (const column of board.querySelectorAll(".board-column")) {
    if (column.dataset.state in folded) fold(column, folded[column.dataset.state]);
    column.querySelector(".fold").addEventListener("click", () => {
      fold(column, !column.classList.contains("folded"));
      localStorage.setItem(FOLDED, JSON.stringify({ ...remembered(), [column.dataset.state]: column.classList.contains("folded") }));
    });
    if (!board.dataset.board) continue;
    Sortable.create(column.querySelector(".cards"), {
      group: "cards",
      draggable: ".card-slip",
      sort: false,
      animation: matchMedia("(prefers-reduced-motion: reduce)").matches ? 0 : 120,
      onEnd: (e) => carry(board, e.item, column.dataset.state, e.to.closest(".board-column").dataset.state),
    });
  }
  board.addEventListener("keydown", (event) => onKey(board, event));
  const last = sessionStorage.getItem("turret-card")?.split(":");
  sessionStorage.removeItem("turret-card");
  if (last) board.querySelector(`[data-holder="${CSS.escape(last[0])}"][data-code="${CSS.escape(last[1])}"]`)?.focus();
}

export function attachBoard() {
  const all = () => document.querySelectorAll("[data-board]").forEach(attach);
  all();
  document.addEventListener("htmx:load", all);
}
