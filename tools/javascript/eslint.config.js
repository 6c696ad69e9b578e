import js from "@eslint/js";
import globals from "globals";

// Plain scripts that run in a page as they stand.
export default [
  js.configs.recommended,
  {
    languageOptions: { sourceType: "script", ecmaVersion: 2022, globals: globals.browser },
    linterOptions: { reportUnusedDisableDirectives: "error" },
    rules: {
      "eqeqeq": "error",
      "no-var": "error",
      "prefer-const": "error",
      "no-shadow": "error",
      "no-implied-eval": "error",
      "no-eval": "error",
      "no-new-func": "error",
      "curly": ["error", "multi-line", "consistent"],
      "max-len": ["error", { "code": 110 }],
    },
  },
];
