// Dropping and sending files, with how far they have come. Without scripts the form sends itself.
import { at } from "./base.js";

function say(form, text, problem) {
  const box = form.parentElement.querySelector("[data-drop-problem]");
  box.hidden = !problem;
  box.textContent = problem ?? "";
  form.querySelector("[data-drop-state]").textContent = text ?? "";
}

function send(form) {
  const bar = form.querySelector("[data-drop-progress]");
  const button = form.querySelector("button");
  const request = new XMLHttpRequest();
  request.open("POST", form.action);
  request.setRequestHeader("X-Csrf-Token", document.body.dataset.token);
  request.setRequestHeader("X-Requested-By", "turret");
  const again = (problem) => {
    bar.hidden = true;
    button.disabled = false;
    say(form, "", problem);
  };
  request.upload.onprogress = (event) => {
    bar.value = (100 * event.loaded) / event.total;
    say(
      form,
      event.loaded === event.total ? "Recognising…" : `${Math.round(event.loaded / 1e5) / 10} of ${Math.round(event.total / 1e5) / 10} MB`,
    );
  };
  request.onerror = () => again("That did not arrive. Nothing was changed; try again.");
  request.onload = () => {
    let answer = {};
    try {
      answer = JSON.parse(request.responseText);
    } catch {
      // an answer that is a page says nothing here
    }
    if (answer.to) location.assign(at(answer.to));
    else again(answer.error ?? "That was not taken. Nothing was changed; reload the page and try again.");
  };
  bar.hidden = false;
  button.disabled = true;
  request.send(new FormData(form));
}

export function attachDrop() {
  const form = document.querySelector("form[data-drop]");
  if (!form) return;
  const input = form.querySelector("input[type=file]");
  const zone = form.querySelector("[data-zone]");
  for (const kind of ["dragenter", "dragover", "dragleave", "drop"]) {
    zone.addEventListener(kind, (event) => {
      event.preventDefault();
      zone.classList.toggle("over", kind === "dragenter" || kind === "dragover");
      if (kind === "drop" && event.dataTransfer.files.length > 0) {
        input.files = event.dataTransfer.files;
        input.dispatchEvent(new Event("change", { bubbles: true }));
      }
    });
  }
  input.addEventListener("change", () => {
    const names = [...input.files].map((f) => f.name).join(", ");
    say(form, names);
    if (form.querySelector("[name=source]").value && input.files.length > 0) send(form);
  });
  form.addEventListener("submit", (event) => {
    event.preventDefault();
    if (input.files.length === 0 && !form.querySelector("[data-paste]").value.trim()) {
      say(form, "", "Choose files, drop them, or paste cells first.");
      return;
    }
    send(form);
  });
}
