// faint runs in a page and names texts that stand out too little from their ground: below 4.5 to 1, or 3 to 1 where they are large (24 px, or
// bold and 18.66 px), as WCAG 2.2 asks (1.4.3). What is disabled, hidden or no text is not asked; a ground that is a picture is not known.
export function faint() {
  const clear = [0, 0, 0, 0];
  const canvas = document.createElement("canvas").getContext("2d", { willReadFrequently: true });
  const read = new Map();
  // rgba reads any colour that CSS can tell, mixed ones too, by painting it.
  const rgba = (colour) => {
    const plain = /^rgba?\(([\d.]+), ([\d.]+), ([\d.]+)(?:, ([\d.]+))?\)$/.exec(colour);
    if (plain) return [+plain[1], +plain[2], +plain[3], +(plain[4] ?? 1)];
    if (!read.has(colour)) {
      canvas.clearRect(0, 0, 1, 1);
      canvas.fillStyle = colour;
      canvas.fillRect(0, 0, 1, 1);
      const [r, g, b, a] = canvas.getImageData(0, 0, 1, 1).data;
      read.set(colour, [r, g, b, a / 255]);
    }
    return read.get(colour);
  };
  const over = ([r, g, b, a], [R, G, B]) => [r * a + R * (1 - a), g * a + G * (1 - a), b * a + B * (1 - a), 1];
  const linear = (c) => (c / 255 <= 0.04045 ? c / 255 / 12.92 : ((c / 255 + 0.055) / 1.055) ** 2.4);
  const bright = ([r, g, b]) => 0.2126 * linear(r) + 0.7152 * linear(g) + 0.0722 * linear(b);
  const ratio = (a, b) => (Math.max(bright(a), bright(b)) + 0.05) / (Math.min(bright(a), bright(b)) + 0.05);

  const grounds = new Map();
  // ground is what an element stands on: its own ground and those behind it; null where a picture is among them.
  const ground = (element) => {
    if (!element) return [255, 255, 255, 1];
    if (!grounds.has(element)) {
      const style = getComputedStyle(element);
      const own = style.backgroundImage === "none" ? rgba(style.backgroundColor) : null;
      const behind = own?.[3] === 1 ? clear : ground(element.parentElement);
      grounds.set(element, own && behind ? over(own, behind) : null);
    }
    return grounds.get(element);
  };
  const seen = (element) => {
    for (let up = element; up; up = up.parentElement) if (+getComputedStyle(up).opacity === 0) return false;
    const { width, height } = element.getBoundingClientRect();
    return width > 1 && height > 1 && element.checkVisibility({ visibilityProperty: true });
  };
  const weight = (element) => {
    let all = 1;
    for (let up = element; up; up = up.parentElement) all *= +getComputedStyle(up).opacity;
    return all;
  };
  const says = (element) =>
    element.matches("input, select, textarea")
      ? !element.matches("[type=checkbox], [type=radio], [type=range], [type=hidden], [type=color]")
      : [...element.childNodes].some((child) => child.nodeType === Node.TEXT_NODE && child.data.trim());

  const found = [];
  for (const element of document.body.querySelectorAll("*:not(svg, svg *, script, style, template, option)")) {
    if (!says(element) || element.closest(":disabled, [aria-disabled=true], [hidden]") || !seen(element)) continue;
    if (element.matches("label") && element.control?.disabled) continue;
    const style = getComputedStyle(element);
    const on = ground(element);
    if (!on) continue;
    const [r, g, b, a] = rgba(style.color);
    const size = Number.parseFloat(style.fontSize);
    const wanted = size >= 24 || (size >= 18.66 && +style.fontWeight >= 700) ? 3 : 4.5;
    const is = ratio(over([r, g, b, a * weight(element)], on), on);
    if (is < wanted)
      found.push(`${is.toFixed(2)} to 1: ${element.tagName}.${element.className} "${element.textContent.trim().slice(0, 40)}"`);
  }
  return found.slice(0, 5);
}
