import { readFileSync, readdirSync } from "node:fs";
import { join } from "node:path";
import { compileFunction } from "node:vm";
import ts from "typescript";

const CORE = "src/core";
/** Tests, what is generated, and what is compiled to something else. */
const LEFT_OUT = /\.test\.|\.d\.ts$|\/generated\/|\/assembly\//;

/** An example in the comment of a function of the core: an expression, and what it comes to. */
export interface Example {
  readonly file: string;
  readonly expression: string;
  readonly result: string;
}

export function coreFiles(): readonly string[] {
  return readdirSync(CORE, { recursive: true, encoding: "utf8" })
    .map((name) => join(CORE, name))
    .filter((file) => file.endsWith(".ts") && !LEFT_OUT.test(file))
    .sort();
}

/** All `@example expression // result` of a file, each on one line. */
export function examplesIn(file: string): readonly Example[] {
  return readFileSync(file, "utf8")
    .split("\n")
    .flatMap((line) => {
      const [, expression, result] = /@example (.+?) \/\/ (.+?)(?: \*\/| @throws.*)?$/.exec(line) ?? [];
      return expression && result ? [{ file, expression, result }] : [];
    });
}

/** Exported functions of a file, with whether their comment has an example. */
export function functionsIn(file: string): readonly { readonly name: string; readonly hasExample: boolean }[] {
  const source = ts.createSourceFile(file, readFileSync(file, "utf8"), ts.ScriptTarget.Latest, true);
  return source.statements.flatMap((statement) => {
    if (!ts.isFunctionDeclaration(statement) || !statement.name) return [];
    if (!statement.modifiers?.some(({ kind }) => kind === ts.SyntaxKind.ExportKeyword)) return [];
    const hasExample = ts.getJSDocTags(statement).some(({ tagName }) => tagName.text === "example");
    return [{ name: statement.name.text, hasExample }];
  });
}

/** Evaluates an expression as it stands in a comment. @param scope what it may name */
export function evaluate(expression: string, scope: Readonly<Record<string, unknown>>): unknown {
  const { outputText } = ts.transpileModule(`return (${expression});`, {
    compilerOptions: { target: ts.ScriptTarget.ES2022, module: ts.ModuleKind.None },
  });
  return compileFunction(outputText, Object.keys(scope))(...Object.values(scope));
}
