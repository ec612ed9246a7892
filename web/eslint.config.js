import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

export default tseslint.config(
  { ignores: ["src/api/schema.d.ts", "dist"] },
  ...tseslint.configs.strict,
  hooks.configs.flat["recommended-latest"],
  {
    rules: {
      "no-restricted-globals": ["error", { name: "fetch", message: "Use the one client in src/api." }],
      "@typescript-eslint/no-non-null-assertion": "error",
    },
  },
  { files: ["src/api/client.ts"], rules: { "no-restricted-globals": "off" } },
);
