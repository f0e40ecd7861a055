import js from "@eslint/js";
import query from "@tanstack/eslint-plugin-query";
import access from "eslint-plugin-jsx-a11y";
import hooks from "eslint-plugin-react-hooks";
import ts from "typescript-eslint";

export default ts.config(
  { ignores: ["dist", "src/api/schema.ts"] },
  js.configs.recommended,
  ...ts.configs.strictTypeChecked,
  {
    languageOptions: {
      parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname },
    },
  },
  hooks.configs.flat["recommended-latest"] ?? hooks.configs.flat.recommended,
  access.flatConfigs.strict,
  ...query.configs["flat/recommended"],
  {
    rules: {
      "max-lines": ["error", { max: 260, skipBlankLines: true }],
      // A handler that is one call, and a number in a sentence, are clear as they are.
      "@typescript-eslint/no-confusing-void-expression": ["error", { ignoreArrowShorthand: true }],
      "@typescript-eslint/restrict-template-expressions": ["error", { allowNumber: true }],
      // The focus goes into what a member has just opened; no page takes it by itself.
      "jsx-a11y/no-autofocus": "off",
      // What is stored and edited here goes through one mechanism: nothing written is lost on leaving, and
      // nothing that somebody else has saved meanwhile.
      "no-restricted-syntax": [
        "error",
        ...["MemberExpression", "Identifier", "LogicalExpression", "TSAsExpression"].map(
          (type) => ({
            selector: `CallExpression[callee.name='useState'][arguments.0.type='${type}'][arguments.0.name!='undefined']`,
            message:
              "A copy of what is stored: use useForm or useDocument. State that only begins with a value begins with a function.",
          }),
        ),
        {
          selector: "CallExpression[callee.object.name='draft'][callee.property.name='edit']",
          message:
            "Take edit out of the draft first: the draft is another one with each key, and so would be what calls this, and every row that is given it.",
        },
      ],
    },
  },
);
