import js from "@eslint/js";
import jsxA11y from "eslint-plugin-jsx-a11y";
import reactHooks from "eslint-plugin-react-hooks";
import { readdirSync } from "node:fs";

import tseslint from "typescript-eslint";

const STAGES = readdirSync(new URL("./src/stages", import.meta.url));

export default tseslint.config(
  { ignores: ["src/generated/**", "dist/**"] },
  js.configs.recommended,
  ...tseslint.configs.strict,
  jsxA11y.flatConfigs.strict,
  reactHooks.configs.flat["recommended-latest"],
  {
    settings: {
      "jsx-a11y": {
        components: {
          Button: "button",
          Input: "input",
          Checkbox: "input",
          Range: "input",
          Radio: "input",
          Select: "select",
          Table: "table",
        },
      },
    },
  },
  // Each control has one home: what is pressed, typed, chosen, folded or set in a table is drawn by the kit.
  {
    files: ["src/**/*.tsx"],
    ignores: ["src/kit/**"],
    rules: {
      "no-restricted-syntax": [
        "error",
        {
          selector:
            "JSXOpeningElement[name.name=/^(button|input|select|textarea|table|thead|details|summary|dialog|fieldset|kbd|progress)$/]",
          message: "The kit has it.",
        },
        {
          selector:
            "JSXAttribute[name.name='className'] > Literal[value=/(^|\\s)(btn|link|input|select|checkbox|radio|alert|badge|collapse|tab|kbd|fieldset|table)(\\s|$|-)/]",
          message: "The kit's look is the kit's.",
        },
      ],
    },
  },
  // What is longer says several things; a reason to leave it so stands where the rule is switched off.
  {
    files: ["src/**/*.{ts,tsx}"],
    ignores: ["src/**/*.test.ts"],
    rules: {
      "max-lines-per-function": ["error", { max: 60, skipComments: true, skipBlankLines: true }],
    },
  },
  // Each room knows those before it: kit is for anything, studio for its pages, plan for any stage, a stage for itself.
  only("src/kit", ["**/studio/**", "**/plan/**", "**/stages/**", "**/pages/**"]),
  only("src/studio", ["**/plan/**", "**/stages/**", "**/pages/**"]),
  only("src/plan", ["**/pages/**", "**/stages/*/[A-Z]*"]),
  only("src/pages", ["**/plan/**"]),
  ...STAGES.map((stage) =>
    only(`src/stages/${stage}`, [
      "**/pages/**",
      ...STAGES.filter((other) => other !== stage).map((other) => `../${other}/**`),
    ]),
  ),
);

/** The files of a folder may not import what these patterns match. */
function only(folder, patterns) {
  return {
    files: [`${folder}/**/*.{ts,tsx}`],
    rules: {
      "no-restricted-imports": [
        "error",
        { patterns: [{ group: patterns, message: "A room knows only those below it." }] },
      ],
    },
  };
}
