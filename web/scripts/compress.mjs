// Writes .br and .gz beside every built text file, and says how much script the first loads take: of the application, and
// of the player's page on a phone.
import { readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";

const folder = join(import.meta.dirname, "..", "dist", "assets");
const manifest = JSON.parse(readFileSync(join(folder, "..", ".vite", "manifest.json"), "utf8"));

/** What a page loads before it shows anything: its entry, the language, what that begins with; and all these import. */
function loadedFirst(page) {
  const keys = new Set();
  const add = (key) => {
    if (keys.has(key)) return;
    keys.add(key);
    for (const inner of manifest[key].imports ?? []) add(inner);
  };
  add(page);
  for (const key of [...keys]) for (const inner of manifest[key].dynamicImports ?? []) if (key === page) add(inner);
  return new Set([...keys].map((key) => manifest[key].file));
}

const ofApplication = loadedFirst("index.html");
const ofPhone = loadedFirst("practice.html");
let first = 0;
let onPhone = 0;
for (const name of readdirSync(folder)) {
  if (!/\.(js|css|svg)$/.test(name)) continue;
  const content = readFileSync(join(folder, name));
  const brotli = brotliCompressSync(content, { params: { [constants.BROTLI_PARAM_QUALITY]: 9 } });
  const gzip = gzipSync(content, { level: 9 });
  writeFileSync(join(folder, `${name}.br`), brotli);
  writeFileSync(join(folder, `${name}.gz`), gzip);
  if (name.endsWith(".js") && ofApplication.has(`assets/${name}`)) first += gzip.length;
  if (name.endsWith(".js") && ofPhone.has(`assets/${name}`)) onPhone += gzip.length;
}
rmSync(join(folder, "..", ".vite"), { recursive: true });
writeFileSync(join(folder, "..", "size.json"), JSON.stringify({ first_load_script_gzip_bytes: first, phone_script_gzip_bytes: onPhone }));
console.log(`first load: ${(first / 1000).toFixed(1)} kB of script (gzip), ${(onPhone / 1000).toFixed(1)} kB on the player's phone`);
if (first > 250_000 || onPhone > 60_000) {
  console.error("more than 250 kB of script at first load, or 60 kB on the phone");
  process.exit(1);
}
