import js from "@eslint/js";
import globals from "globals";

export default [
  js.configs.recommended,
  {
    languageOptions: { globals: { ...globals.browser, Alpine: "readonly", htmx: "readonly" } },
    rules: {
      eqeqeq: "error",
      "no-var": "error",
      "prefer-const": "error",
      "no-shadow": "error",
      "no-unused-vars": ["error", { args: "all", argsIgnorePattern: "^_" }],
    },
  },
];
