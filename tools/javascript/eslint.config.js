import js from "@eslint/js";
import globals from "globals";

// Modules of the runtime, which is shipped as one file.
export default [
  js.configs.recommended,
  {
    languageOptions: { sourceType: "module", ecmaVersion: 2022, globals: globals.browser },
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
