// A page on which any complaint of the browser, a broken policy of content among them, fails the test.
import { test as base } from "@playwright/test";

export { expect } from "@playwright/test";

// enter signs in as one of the demonstration's people.
export async function enter(page, login) {
  const answer = await page.request.post("/enter", { form: { login, to: "/healthz" } });
  if (!answer.ok()) throw new Error(`nobody signs in as ${login}: ${answer.status()}`);
}

// putClock has a page's clock tell another day, at the same time of day; it runs in the page.
function putClock(day) {
  const Real = Date;
  const off = Real.parse(day) - Math.floor(Real.now() / 864e5) * 864e5;
  globalThis.Date = class extends Real {
    constructor(...given) {
      super(...(given.length > 0 ? given : [Real.now() + off]));
    }
    static now() {
      return Real.now() + off;
    }
  };
}

export const test = base.extend({
  as: ["osei", { option: true }],
  page: async ({ page, as }, use) => {
    const complaints = [];
    page.on("pageerror", (e) => complaints.push(e.message));
    page.on("console", (m) => {
      if (m.type() === "error" && !/Failed to load resource|htmx:(sendError|afterRequest)/.test(m.text())) complaints.push(m.text());
    });
    if (process.env.TURRET_DAY) await page.context().addInitScript(putClock, process.env.TURRET_DAY);
    if (as) await enter(page, as);
    await use(page);
    if (complaints.length > 0) throw new Error(`the browser complained: ${complaints.join("; ")}`);
  },
});
