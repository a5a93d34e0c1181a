// Prints those of the files named whose syntax the compiler of TypeScript refuses, one a line.
// Usage: node typescript_syntax.js PATH/TO/typescript.js FILE...
"use strict";
const ts = require(process.argv[2]);
const fs = require("fs");

for (const path of process.argv.slice(3)) {
  const text = fs.readFileSync(path, "utf8");
  const file = ts.createSourceFile(path, text, ts.ScriptTarget.Latest, false);
  if (file.parseDiagnostics.length > 0) console.log(path);
}
