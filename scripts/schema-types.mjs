/**
 * Makes types of the JSON Schemas of docs/schema, with which `tests/types/schemas.ts` compares the program's own: where one of
 * the two changes without the other, the check of types fails.
 */
import { mkdir, readdir, writeFile } from "node:fs/promises";
import { compileFromFile } from "json-schema-to-typescript";

const from = "docs/schema";
const to = "tests/types/generated";

await mkdir(to, { recursive: true });
for (const file of await readdir(from)) {
  const types = await compileFromFile(`${from}/${file}`, {
    cwd: from,
    bannerComment: "",
    format: false,
    ignoreMinAndMaxItems: true,
    // Their titles are sentences.
    customName: (schema) => (schema.$id ? "Root" : undefined),
  });
  await writeFile(`${to}/${file.replace(".schema.json", "")}.ts`, types);
}
