// Builds styles and scripts into dist/, which the binary embeds, and brings the fonts of pages and of print to their places.
// Names carry a hash of the content, so that they can be cached for good; manifest.json maps plain names to them.
import { createHash } from "node:crypto";
import { copyFileSync, mkdirSync, readFileSync, readdirSync, rmSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import * as esbuild from "esbuild";
import * as sass from "sass-embedded";

const here = dirname(fileURLToPath(import.meta.url));
const root = join(here, "../../..");
const dist = join(here, "dist");
const modules = join(root, "node_modules");
const manifest = {};

function empty(dir) {
  mkdirSync(dir, { recursive: true });
  for (const name of readdirSync(dir)) if (name !== ".keep") rmSync(join(dir, name), { recursive: true });
}

function emit(name, content) {
  const hash = createHash("sha256").update(content).digest("hex").slice(0, 10);
  const hashed = name.replace(/(\.[a-z0-9]+)$/, `-${hash}$1`);
  writeFileSync(join(dist, hashed), content);
  manifest[name] = hashed;
  return hashed;
}

const ranges = {
  latin:
    "U+0000-00FF, U+0131, U+0152-0153, U+02BB-02BC, U+02C6, U+02DA, U+02DC, U+0304, U+0308, U+0329, U+2000-206F, U+20AC, U+2122, U+2191, U+2193, U+2212, U+2215, U+FEFF, U+FFFD",
  "latin-ext":
    "U+0100-0130, U+0132-0151, U+0154-02BA, U+02BD-02C5, U+02C7-02CC, U+02CE-02D7, U+02DD-02FF, U+1E00-1E9F, U+1EF2-1EFF, U+2020, U+20A0-20AB, U+20AD-20C0",
  vietnamese:
    "U+0102-0103, U+0110-0111, U+0128-0129, U+0168-0169, U+01A0-01A1, U+01AF-01B0, U+0300-0301, U+0303-0304, U+0308-0309, U+0323, U+0329, U+1EA0-1EF9, U+20AB",
};

const faces = [
  ["ibm-plex-sans", "Plex Sans", [400, 600]],
  ["ibm-plex-sans-condensed", "Plex Sans Condensed", [400, 600]],
  ["ibm-plex-serif", "Plex Serif", [400]],
];

function fonts() {
  let css = "";
  for (const [pkg, family, weights] of [...faces.slice(0, 2), ["ibm-plex-serif", "Plex Serif", [400, 600]]]) {
    emit(`${pkg}-licence.txt`, readFileSync(join(modules, "@fontsource", pkg, "LICENSE")));
    for (const weight of weights) {
      for (const [subset, range] of Object.entries(ranges)) {
        const file = `${pkg}-${subset}-${weight}-normal.woff2`;
        const hashed = emit(file, readFileSync(join(modules, "@fontsource", pkg, "files", file)));
        css += `@font-face{font-family:"${family}";font-weight:${weight};font-style:normal;font-display:block;src:url(${hashed}) format("woff2");unicode-range:${range}}\n`;
      }
    }
  }
  return css;
}

function printFonts() {
  const target = join(root, "internal/report/fonts");
  empty(target);
  for (const [pkg, file, as] of [
    ["ibm-plex-serif", "400Regular/IBMPlexSerif_400Regular.ttf", "serif.ttf"],
    ["ibm-plex-serif", "600SemiBold/IBMPlexSerif_600SemiBold.ttf", "serif-bold.ttf"],
    ["ibm-plex-sans-condensed", "400Regular/IBMPlexSansCondensed_400Regular.ttf", "condensed.ttf"],
    ["ibm-plex-sans-condensed", "600SemiBold/IBMPlexSansCondensed_600SemiBold.ttf", "condensed-bold.ttf"],
  ]) {
    copyFileSync(join(modules, "@expo-google-fonts", pkg, file), join(target, as));
  }
  let css = ""; // reports in one file bring their type along
  for (const [pkg, family, weights] of faces) {
    for (const weight of weights) {
      for (const subset of ["latin", "latin-ext"]) {
        const bytes = readFileSync(join(modules, "@fontsource", pkg, "files", `${pkg}-${subset}-${weight}-normal.woff2`));
        css += `@font-face{font-family:"IBM ${family}";font-weight:${weight};src:url(data:font/woff2;base64,${bytes.toString("base64")}) format("woff2");unicode-range:${ranges[subset]}}\n`;
      }
    }
  }
  writeFileSync(join(target, "faces.css"), css);
}

// The colours of pages, by theme, from the table that print and drawings take theirs from.
function colours() {
  const table = Object.entries(JSON.parse(readFileSync(join(root, "internal/scene/colours.json"), "utf8")));
  const of = (theme) => table.map(([role, by]) => [role, by[theme]]);
  return ["light", "dark"]
    .map(
      (theme) =>
        of(theme)
          .map(([role, value]) => `$${theme}-${role}: ${value};`)
          .join("") +
        `@mixin colours-${theme} {${of(theme)
          .map(([role, value]) => `--${role}: ${value};`)
          .join("")}}`,
    )
    .join("");
}

const made = new URL("made:colours");
empty(dist);
const style = sass.compile(join(here, "scss/turret.scss"), {
  loadPaths: [modules],
  importers: [{ canonicalize: (name) => (name === "colours" ? made : null), load: () => ({ contents: colours(), syntax: "scss" }) }],
  style: "compressed",
  charset: false, // a byte-order mark behind the fonts would spoil the first rule
  quietDeps: true,
  silenceDeprecations: ["import", "global-builtin", "color-functions", "mixed-decls"],
});
emit("turret.css", fonts() + style.css);
const script = await esbuild.build({
  entryPoints: [join(here, "js/turret.js")],
  bundle: true,
  minify: true,
  format: "iife",
  target: "es2022",
  write: false,
  nodePaths: [modules],
});
emit("turret.js", script.outputFiles[0].contents);
emit("theme.js", readFileSync(join(here, "js/theme.js")));
emit("icon.svg", readFileSync(join(here, "icon.svg")));
writeFileSync(join(dist, "manifest.json"), JSON.stringify(manifest, null, 1));
printFonts();
