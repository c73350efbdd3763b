// Charts taken as they are shown: as SVG with its looks and fonts inside, as PNG, and their data as CSV.
import { at } from "./base.js";
import { save, sent } from "./save.js";

const LOOKS = [
  "fill",
  "fill-opacity",
  "stroke",
  "stroke-width",
  "stroke-dasharray",
  "stroke-linecap",
  "stroke-linejoin",
  "opacity",
  "font-size",
  "font-weight",
  "text-anchor",
];
const FAMILY = "Plex Sans Condensed";

// fonts are the rules of the charts' font with the files inside, so that a picture looks the same where it is not installed.
async function fonts() {
  const rules = [...document.styleSheets]
    .flatMap((sheet) => [...sheet.cssRules])
    .filter((rule) => rule instanceof CSSFontFaceRule && rule.style.getPropertyValue("font-family").includes(FAMILY))
    .filter((rule) => rule.cssText.includes("latin-400") || rule.cssText.includes("latin-600"));
  const parts = await Promise.all(
    rules.map(async (rule) => {
      const url = /url\("?([^")]+)"?\)/.exec(rule.cssText)?.[1];
      const answer = await fetch(new URL(url, rule.parentStyleSheet.href));
      const bytes = new Uint8Array(await answer.arrayBuffer());
      const text = btoa(bytes.reduce((s, b) => s + String.fromCharCode(b), ""));
      const weight = rule.style.getPropertyValue("font-weight");
      return `@font-face{font-family:"${FAMILY}";font-weight:${weight};src:url(data:font/woff2;base64,${text}) format("woff2")}`;
    }),
  );
  return parts.join("");
}

// standalone is a drawing that needs nothing of the page.
export async function standalone(svg) {
  const copy = svg.cloneNode(true);
  const [from, to] = [
    [svg, ...svg.querySelectorAll("*")],
    [copy, ...copy.querySelectorAll("*")],
  ];
  from.forEach((element, i) => {
    const looks = getComputedStyle(element);
    for (const name of LOOKS) to[i].setAttribute(name, looks.getPropertyValue(name));
    if (element.localName === "a") to[i].removeAttribute("href");
    to[i].removeAttribute("class");
  });
  const box = svg.viewBox.baseVal;
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("width", box.width);
  copy.setAttribute("height", box.height);
  copy.setAttribute("font-family", `${FAMILY}, sans-serif`);
  const ground = document.createElementNS("http://www.w3.org/2000/svg", "rect");
  ground.setAttribute("width", box.width);
  ground.setAttribute("height", box.height);
  ground.setAttribute("fill", getComputedStyle(document.body).backgroundColor);
  const style = document.createElementNS("http://www.w3.org/2000/svg", "style");
  style.textContent = await fonts();
  copy.prepend(style, ground);
  return new XMLSerializer().serializeToString(copy);
}

async function picture(svg) {
  const text = await standalone(svg);
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(text)}`;
  await image.decode();
  const canvas = document.createElement("canvas");
  const box = svg.viewBox.baseVal;
  [canvas.width, canvas.height] = [box.width * 2, box.height * 2];
  const paint = canvas.getContext("2d");
  paint.scale(2, 2);
  paint.drawImage(image, 0, 0, box.width, box.height);
  return new Promise((resolve) => canvas.toBlob(resolve, "image/png"));
}

const line = (text) => text.replace(/\s+/g, " ").trim();

// data is the table beside a chart, or what its marks say of themselves.
export function data(svg) {
  const room = svg.closest("section, main") ?? document.body;
  const table = [...room.querySelectorAll("details table")].find((t) => svg.compareDocumentPosition(t) & Node.DOCUMENT_POSITION_FOLLOWING);
  if (table) {
    return {
      heads: [...table.tHead.rows[table.tHead.rows.length - 1].cells].map((x) => line(x.textContent)),
      rows: [...table.tBodies].flatMap((b) => [...b.rows]).map((row) => [...row.cells].map((x) => line(x.textContent))),
    };
  }
  const said = [...svg.querySelectorAll("title")].map((x) => line(x.textContent)).filter(Boolean);
  const words = said.length > 0 ? said : [...svg.querySelectorAll("text")].map((x) => line(x.textContent));
  return { heads: [svg.getAttribute("aria-label") ?? "Chart"], rows: [...new Set(words)].map((text) => [text]) };
}

function attach(svg) {
  const tools = document.getElementById("chart-tools")?.content.firstElementChild.cloneNode(true);
  if (!tools) return;
  const name =
    (svg.getAttribute("aria-label") ?? "chart")
      .toLowerCase()
      .replace(/[^a-z]+/g, "-")
      .replace(/^-+|-+$/g, "")
      .slice(0, 40) || "chart";
  const problem = tools.querySelector("[data-problem]");
  const act = (what, how) =>
    tools.querySelector(`[data-take=${what}]`).addEventListener("click", async () => {
      try {
        problem.hidden = true;
        await how();
      } catch (error) {
        problem.hidden = false;
        problem.textContent = error.message;
      }
    });
  act("svg", async () => save(new Blob([await standalone(svg)], { type: "image/svg+xml" }), `${name}.svg`));
  act("png", async () => save(await picture(svg), `${name}.png`));
  act("csv", async () => save(await table(name, data(svg)), `${name}.csv`));
  (svg.closest(".scroll, .strip") ?? svg).after(tools);
}

// table is the data as a file; each row is as wide as the widest.
async function table(name, { heads, rows }) {
  const width = Math.max(heads.length, ...rows.map((row) => row.length));
  const even = (row) => [...row, ...Array(width - row.length).fill("")];
  const answer = await sent(at(`/tables/${name}.csv${location.search}`), { heads: even(heads), rows: rows.map(even) });
  return answer.blob();
}

export function attachCharts() {
  for (const svg of document.querySelectorAll("main svg.scene[role=group]")) {
    if (svg.viewBox.baseVal.width >= 200 && !svg.closest("table, a, button, .tl")) attach(svg);
  }
}
