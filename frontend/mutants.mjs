// Small faults that can be planted in the page's arithmetic. `node mutants.mjs` lists them all as JSON, by file and
// number; `mutants.config.ts` plants the one of that file and number while the tests run. Called by ./bench --mutants.
import { readdirSync, readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import path from "node:path";
import ts from "typescript";

const FOLDERS = ["src/plan", "src/kit"];
const COMPARE = {
  "<": "<=",
  "<=": "<",
  ">": ">=",
  ">=": ">",
  "===": "!==",
  "!==": "===",
};
const ARITHMETIC = { "+": "-", "-": "+", "*": "/", "/": "*", "&&": "||", "||": "&&", "??": "&&" };
const CALLS = { min: "max", max: "min", some: "every", every: "some", startsWith: "endsWith" };

/** The files that compute: no tests, nothing that draws, nothing only for tests. */
export function files() {
  return FOLDERS.flatMap((folder) =>
    readdirSync(folder)
      .filter((name) => name.endsWith(".ts") && !/\.test\.ts$|\.world\.ts$|\.d\.ts$/.test(name))
      .map((name) => `${folder}/${name}`),
  );
}

/** Every fault of a file, in a stable order: where it begins and ends, and what stands there instead. */
export function faultsOf(file, text) {
  const source = ts.createSourceFile(file, text, ts.ScriptTarget.Latest, true);
  const found = [];
  const add = (node, instead, words) => {
    const start = node.getStart(source);
    const line = source.getLineAndCharacterOfPosition(start).line + 1;
    found.push({ file, number: found.length, start, end: node.getEnd(), instead, line, words });
  };
  const visit = (node) => {
    if (ts.isTypeNode(node) || ts.isInterfaceDeclaration(node) || ts.isTypeAliasDeclaration(node)) return;
    if (ts.isImportDeclaration(node)) return;
    if (ts.isBinaryExpression(node)) {
      const sign = node.operatorToken.getText(source);
      const other = COMPARE[sign] ?? ARITHMETIC[sign];
      if (other) add(node.operatorToken, other, `${sign} to ${other}`);
      if (sign === "&&" || sign === "||" || sign === "+" || sign === "-")
        add(node, node.left.getText(source), `second of ${sign} forgotten`);
    } else if (ts.isPrefixUnaryExpression(node) && node.operator === ts.SyntaxKind.ExclamationToken) {
      add(node, node.operand.getText(source), "not dropped");
    } else if (ts.isConditionalExpression(node)) {
      const [yes, no] = [node.whenTrue.getText(source), node.whenFalse.getText(source)];
      add(node, `${node.condition.getText(source)} ? ${no} : ${yes}`, "branches swapped");
    } else if (ts.isNumericLiteral(node)) {
      add(node, String(Number(node.text.replaceAll("_", "")) + 1), `${node.text} one more`);
    } else if (node.kind === ts.SyntaxKind.TrueKeyword) {
      add(node, "false", "true to false");
    } else if (node.kind === ts.SyntaxKind.FalseKeyword) {
      add(node, "true", "false to true");
    } else if (ts.isPropertyAccessExpression(node) && CALLS[node.name.text]) {
      add(node.name, CALLS[node.name.text], `${node.name.text} to ${CALLS[node.name.text]}`);
    } else if (ts.isExpressionStatement(node) && ts.isCallExpression(node.expression)) {
      add(node, ";", "call not made");
    } else if (ts.isExpressionStatement(node) && ts.isAwaitExpression(node.expression)) {
      add(node, ";", "not waited for");
    } else if (ts.isIfStatement(node) && ts.isReturnStatement(node.thenStatement)) {
      add(node, ";", "guard left out");
    }
    ts.forEachChild(node, visit);
  };
  visit(source);
  return found;
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  process.chdir(path.dirname(fileURLToPath(import.meta.url)));
  const every = files().flatMap((file) => faultsOf(file, readFileSync(file, "utf8")));
  process.stdout.write(JSON.stringify(every));
}
