// Writes .br and .gz beside every built text file, and says how much script the first loads take: of the application, and
// of the player's page on a phone.
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";

const folder = join(import.meta.dirname, "..", "dist", "assets");
const html = readFileSync(join(folder, "..", "index.html"), "utf8");
const phone = readFileSync(join(folder, "..", "practice.html"), "utf8");
let first = 0;
let onPhone = 0;
for (const name of readdirSync(folder)) {
  if (!/\.(js|css|svg)$/.test(name)) continue;
  const content = readFileSync(join(folder, name));
  const brotli = brotliCompressSync(content, { params: { [constants.BROTLI_PARAM_QUALITY]: 9 } });
  const gzip = gzipSync(content, { level: 9 });
  writeFileSync(join(folder, `${name}.br`), brotli);
  writeFileSync(join(folder, `${name}.gz`), gzip);
  if (name.endsWith(".js") && html.includes(name)) first += gzip.length;
  if (name.endsWith(".js") && phone.includes(name)) onPhone += gzip.length;
}
writeFileSync(join(folder, "..", "size.json"), JSON.stringify({ first_load_script_gzip_bytes: first, phone_script_gzip_bytes: onPhone }));
console.log(`first load: ${(first / 1000).toFixed(1)} kB of script (gzip), ${(onPhone / 1000).toFixed(1)} kB on the player's phone`);
if (first > 250_000 || onPhone > 60_000) {
  console.error("more than 250 kB of script at first load, or 60 kB on the phone");
  process.exit(1);
}
