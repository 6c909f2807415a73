import js from "@eslint/js";
import globals from "globals";

export default [
  js.configs.recommended,
  {
    languageOptions: { globals: { ...globals.browser, htmx: "readonly", Idiomorph: "readonly" } },
    rules: {
      eqeqeq: "error",
      "no-var": "error",
      "prefer-const": "error",
      complexity: ["error", 14],
      "max-lines-per-function": ["error", 60],
    },
  },
  {
    files: ["**/card-worker.js"],
    languageOptions: { globals: globals.serviceworker },
  },
];
