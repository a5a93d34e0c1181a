// Prints, for each file of a list, where the compiler of TypeScript sees each name bound.
// Usage: node typescript_scopes.js PATH/TO/typescript.js LIST
"use strict";
const ts = require(process.argv[2]);
const fs = require("fs");

function offsets(text) {
  const bytes = new Uint32Array(text.length + 1);
  let size = 0;
  for (let at = 0; at < text.length; at++) {
    bytes[at] = size;
    const code = text.charCodeAt(at);
    if (code < 0x80) size += 1;
    else if (code < 0x800) size += 2;
    else if (code >= 0xd800 && code < 0xdc00) size += 4;
    else if (code < 0xdc00 || code > 0xdfff) size += 3;
  }
  bytes[text.length] = size;
  return bytes;
}

function symbolOf(node, checker) {
  const above = node.parent;
  if (ts.isShorthandPropertyAssignment(above) && above.name === node) {
    return checker.getShorthandAssignmentValueSymbol(above);
  }
  if (ts.isExportSpecifier(above)) {
    const isForeign = above.parent.parent.moduleSpecifier;
    const isAlias = above.propertyName && above.name === node;
    return isForeign || isAlias ? undefined : checker.getExportSpecifierLocalTargetSymbol(above);
  }
  return checker.getSymbolAtLocation(node);
}

function isDeclaration(node) {
  return !(
    ts.isSourceFile(node) || ts.isPropertyAccessExpression(node) || ts.isBinaryExpression(node) ||
    ts.isElementAccessExpression(node) || (ts.isIdentifier(node) && node.parent &&
      (ts.isPropertyAccessExpression(node.parent) || ts.isElementAccessExpression(node.parent)))
  );
}

for (const path of fs.readFileSync(process.argv[3], "utf8").split("\n").filter(Boolean)) {
  const program = ts.createProgram([path], {
    allowJs: true, noLib: true, noResolve: true, target: ts.ScriptTarget.ESNext,
    jsx: ts.JsxEmit.Preserve, experimentalDecorators: true,
  });
  const file = program.getSourceFile(path);
  const checker = program.getTypeChecker();
  const bytes = offsets(file.text);
  const names = [];
  const visit = (node) => {
    if (ts.isIdentifier(node) && node.getEnd() > node.getStart(file)) {
      const symbol = symbolOf(node, checker);
      const declared = ((symbol && symbol.declarations) || [])
        .filter((item) => item.getSourceFile() === file && isDeclaration(item))
        .map((item) => bytes[(item.name || item).getStart(file)]);
      names.push([bytes[node.getStart(file)], declared.sort((a, b) => a - b), ts.SyntaxKind[node.parent.kind]]);
    }
    ts.forEachChild(node, visit);
  };
  visit(file);
  console.log(JSON.stringify([path, names, file.parseDiagnostics.length]));
}
