// What is drawn by templates into parts of a page that others move or write into.
import { render } from "lit-html";

// fill puts what a template draws in the place of all that an element holds.
export function fill(element, what) {
  const fresh = document.createDocumentFragment();
  render(what, fresh);
  element.replaceChildren(fresh);
}
