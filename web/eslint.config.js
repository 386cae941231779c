import js from "@eslint/js";
import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

export default tseslint.config(
  { ignores: ["dist", "src/api/schema.d.ts"] },
  js.configs.recommended,
  ...tseslint.configs.strict,
  hooks.configs.flat["recommended-latest"],
  {
    files: ["src/**/*.{ts,tsx}"],
    ignores: ["src/**/*.test.{ts,tsx}"],
    rules: {
      "max-lines-per-function": ["error", { max: 120 }],
      "no-restricted-syntax": [
        "error",
        ...[
          "JSXText[value=/[A-Za-z]{4}|[A-Za-z]{2} [A-Za-z]/]",
          "JSXAttribute[name.name=/^(aria-label|title|label|placeholder|helperText|alt)$/] > Literal[value=/[A-Za-z]{4}/]",
          "JSXElement > JSXExpressionContainer > TemplateLiteral > TemplateElement[value.raw=/[A-Za-z]{4}/]",
        ].map((selector) => ({ selector, message: "What a screen says stands in src/texts, by topic." })),
      ],
    },
  },
);
