// Every text of the interface, as its sources ask for it: `tr("…")`, `trn("…", "…", n)`, `mark("…")`. Printed as JSON:
// [{one, many, file}]. A text that is not written out where it is asked for cannot be found, and is refused.
import { readdirSync, readFileSync, statSync } from "node:fs";
import { join } from "node:path";

import ts from "typescript";

const SRC = new URL("../src", import.meta.url).pathname;
const ASK = new Set(["tr", "trn", "mark"]);
const found = [];

function* sources(folder) {
  for (const name of readdirSync(folder).sort()) {
    const path = join(folder, name);
    if (statSync(path).isDirectory()) {
      if (name !== "testing") yield* sources(path);
    } else if (/\.tsx?$/.test(name) && !/\.test\.tsx?$|\.d\.ts$|^test-setup/.test(name)) yield path;
  }
}

for (const path of sources(SRC)) {
  const kind = path.endsWith("x") ? ts.ScriptKind.TSX : ts.ScriptKind.TS;
  const source = ts.createSourceFile(path, readFileSync(path, "utf8"), ts.ScriptTarget.Latest, true, kind);
  const visit = (node) => {
    if (ts.isCallExpression(node) && ts.isIdentifier(node.expression) && ASK.has(node.expression.text)) {
      const texts = node.arguments.slice(0, node.expression.text === "trn" ? 2 : 1);
      if (texts.every((t) => ts.isStringLiteralLike(t)))
        found.push({ one: texts[0].text, many: texts[1]?.text ?? "", file: path.slice(SRC.length + 1) });
    }
    ts.forEachChild(node, visit);
  };
  visit(source);
}
process.stdout.write(JSON.stringify(found));
