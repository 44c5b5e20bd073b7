import js from "@eslint/js";
import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

export default tseslint.config(
  { ignores: ["dist", "node_modules", "src/api/schema.d.ts"] },
  js.configs.recommended,
  ...tseslint.configs.strictTypeChecked,
  {
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: { "@typescript-eslint/restrict-template-expressions": ["error", { allowNumber: true }] },
  },
  hooks.configs.flat.recommended,
  // These two are no part of the TypeScript project.
  { files: ["eslint.config.js", "public/sw.js"], ...tseslint.configs.disableTypeChecked },
  {
    files: ["public/sw.js"],
    languageOptions: { globals: { self: "readonly", caches: "readonly", fetch: "readonly", URL: "readonly" } },
  },
  {
    rules: {
      "@typescript-eslint/no-unused-vars": ["error", { argsIgnorePattern: "^_", ignoreRestSiblings: true }],
      "no-restricted-syntax": [
        "error",
        {
          selector: "JSXAttribute[name.name=/^(fill|stroke|color|background)$/] Literal[value=/^(#|rgb|hsl)/]",
          message: "Colours live in src/theme alone.",
        },
      ],
    },
  },
);
