import boundaries from "eslint-plugin-boundaries";
import a11y from "eslint-plugin-jsx-a11y";
import reactHooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

const room = (type, pattern, capture) => ({ type, pattern, mode: "folder", ...(capture ? { capture } : {}) });

export default tseslint.config(
  { ignores: ["src/**/generated/**", "dist/**"] },
  ...tseslint.configs.recommended,
  reactHooks.configs.flat["recommended-latest"],
  a11y.flatConfigs.recommended,
  // a region that scrolls must be reachable by keys
  { rules: { "jsx-a11y/no-noninteractive-tabindex": ["error", { roles: ["tabpanel", "region"] }] } },
  {
    files: ["src/**/*.{ts,tsx}"],
    plugins: { boundaries },
    settings: {
      "import/resolver": { typescript: { project: "./tsconfig.json" } },
      "boundaries/elements": [
        room("app", "src/app"),
        room("feature", "src/features/*", ["name"]),
        room("shared", "src/shared/*"),
        room("api", "src/api"),
        room("lib", "src/lib"),
      ],
    },
    rules: {
      "boundaries/element-types": [
        "error",
        {
          default: "disallow",
          rules: [
            { from: "app", allow: ["app", "feature", "shared", "api", "lib"] },
            { from: "feature", allow: [["feature", { name: "${from.name}" }], "shared", "api", "lib"] },
            { from: "shared", allow: ["shared", "api", "lib"] },
            { from: "api", allow: ["api", "lib"] },
            { from: "lib", allow: ["lib"] },
          ],
        },
      ],
      "no-restricted-imports": ["error", { patterns: [{ group: ["react*"], message: "lib is free of React" }] }],
    },
  },
  {
    files: ["src/**/*.{ts,tsx}"],
    ignores: ["**/*.test.{ts,tsx}"],
    rules: {
      "no-restricted-syntax": ["error", { selector: "Property[key.name='queryKey'] > ArrayExpression", message: "Keys stand in api/keys.ts" }],
    },
  },
  {
    files: ["src/features/swing/**/*.tsx"],
    ignores: ["**/*.test.tsx"],
    rules: { "max-lines-per-function": ["error", { max: 150, skipBlankLines: true, skipComments: true }] },
  },
  { files: ["src/{app,features,shared,api,testing}/**/*.{ts,tsx}", "src/*.{ts,tsx}"], rules: { "no-restricted-imports": "off" } },
);
