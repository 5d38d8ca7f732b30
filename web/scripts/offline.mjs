// Writes into the service worker which files the player's page is made of: its own, and those it loads.
import { createHash } from "node:crypto";
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";

const dist = join(import.meta.dirname, "..", "dist");
const manifest = JSON.parse(readFileSync(join(dist, ".vite", "manifest.json"), "utf8"));
const files = new Set();
const seen = new Set();
const add = (key) => {
  seen.add(key);
  const entry = manifest[key];
  for (const file of [entry.file, ...(entry.css ?? []), ...(entry.assets ?? [])]) files.add(file);
  for (const inner of [...(entry.imports ?? []), ...(entry.dynamicImports ?? [])]) if (!seen.has(inner)) add(inner);
};
add("practice.html");
// of the fonts those with the letters of the page's language; the others come when they are needed
const wanted = [...files].filter((file) => !/\.woff2?$/.test(file) || /-latin-(wght|ext)/.test(file));
const page = readFileSync(join(dist, "practice.html"));
const list = [
  { url: "/practice.html", revision: createHash("sha256").update(page).digest("hex").slice(0, 16) },
  ...wanted.map((file) => ({ url: `/${file}`, revision: null })), // their names change with their content
];
const worker = join(dist, "practice-sw.js");
const code = readFileSync(worker, "utf8");
if (!code.includes("self.__WB_MANIFEST")) throw new Error("the service worker has no place for its list");
writeFileSync(worker, code.replace("self.__WB_MANIFEST", JSON.stringify(list)));
console.log(`offline: ${list.length} files`);
