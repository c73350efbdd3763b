// A page on which any complaint of the browser, a broken policy of content among them, fails the test.
import { test as base } from "@playwright/test";

export { expect } from "@playwright/test";

export const test = base.extend({
  page: async ({ page }, use) => {
    const complaints = [];
    page.on("pageerror", (e) => complaints.push(e.message));
    page.on("console", (m) => {
      if (m.type() === "error" && !/Failed to load resource|htmx:(sendError|afterRequest)/.test(m.text())) complaints.push(m.text());
    });
    await use(page);
    if (complaints.length > 0) throw new Error(`the browser complained: ${complaints.join("; ")}`);
  },
});
