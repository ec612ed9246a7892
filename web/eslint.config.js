import query from "@tanstack/eslint-plugin-query";
import a11y from "eslint-plugin-jsx-a11y";
import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

export default tseslint.config(
  { ignores: ["src/api/schema.d.ts", "dist"] },
  ...tseslint.configs.strict,
  hooks.configs.flat["recommended-latest"],
  a11y.flatConfigs.strict,
  ...query.configs["flat/recommended"],
  {
    rules: {
      "no-restricted-globals": ["error", { name: "fetch", message: "Use the one client in src/api." }],
      "@typescript-eslint/no-non-null-assertion": "error",
      // a dialog opens on its first field: whoever opened it wants to type there
      "jsx-a11y/no-autofocus": ["error", { ignoreNonDOM: true }],
      // a list whose bullets are taken away is no list to some screen readers unless its role is said
      "jsx-a11y/no-redundant-roles": ["error", { ul: ["list"], ol: ["list"] }],
    },
  },
  {
    files: ["src/**/*.{ts,tsx}"],
    ignores: ["src/api/**"],
    rules: {
      "no-restricted-syntax": [
        "error",
        {
          selector: "Property[key.name='queryKey'] > ArrayExpression",
          message: "Query keys are made in src/api/keys.ts.",
        },
        {
          selector: "AwaitExpression > CallExpression[callee.object.name='api'][callee.property.name!='GET']",
          message: "Change something through useAct (src/api/acts.ts): a bare await loses its refusal.",
        },
      ],
    },
  },
  { files: ["src/api/client.ts"], rules: { "no-restricted-globals": "off" } },
);
