import htmx from "htmx.org";
import { attachKeyboard } from "./keyboard.js";
import { attachMargin } from "./margin.js";
import { attachTheme } from "./theme-switch.js";
import { attachControls } from "./controls.js";
import { attachDrop } from "./drop.js";
import { attachSheet } from "./sheet.js";

window.htmx = htmx;
attachTheme();
attachMargin();
attachKeyboard();
attachControls();
attachDrop();
attachSheet();
