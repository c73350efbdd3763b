import js from "@eslint/js";
import globals from "globals";

export default [
  { ignores: ["internal/web/assets/dist/", "node_modules/", "test-results/", "playwright-report/"] },
  js.configs.recommended,
  {
    files: ["internal/web/assets/js/*.js"],
    languageOptions: { globals: { ...globals.browser, htmx: "readonly" } },
    rules: { "max-lines": ["error", 300] },
  },
  { files: ["**/*.mjs"], languageOptions: { globals: { ...globals.node, ...globals.browser } } },
];
