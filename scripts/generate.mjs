/**
 * Makes what the source cannot hold itself: the files' validators as plain code (compiling a schema in the browser
 * needs eval, which the security policy forbids), the icons, and the bundles of the audio thread and the workers.
 */
import { mkdir, readFile, writeFile } from "node:fs/promises";
import Ajv from "ajv";
import standaloneCode from "ajv/dist/standalone/index.js";
import { transpose } from "@tonaljs/pitch-distance";
import { get as scaleType } from "@tonaljs/scale-type";
import { build } from "esbuild";

const generated = "src/core/formats/generated";

/** Of the package bootstrap-icons (MIT). */
const ICONS = [
  "arrow-clockwise",
  "arrow-counterclockwise",
  "check2",
  "chevron-down",
  "chevron-left",
  "chevron-right",
  "circle-fill",
  "circle-half",
  "dice-5",
  "download",
  "eraser-fill",
  "grid-3x3-gap-fill",
  "headphones",
  "moon-stars",
  "music-note-beamed",
  "pie-chart",
  "play",
  "play-fill",
  "plus",
  "sliders",
  "stop",
  "stop-fill",
  "sun",
  "three-dots",
  "trash3",
  "volume-mute",
  "volume-up",
  "x",
  "zoom-in",
  "zoom-out",
];

/** The scales that keys can play, by their names in @tonaljs/scale-type, and the roots from C on as they are mostly spelt. */
const SCALES = [
  "major",
  "minor",
  "dorian",
  "phrygian",
  "lydian",
  "mixolydian",
  "harmonic minor",
  "melodic minor",
  "major pentatonic",
  "minor pentatonic",
  "minor blues",
];
const ROOTS = ["C", "Db", "D", "Eb", "E", "F", "F#", "G", "Ab", "A", "Bb", "B"];

/** How each scale is spelt from each root: the library's tables of all scales there are would be ten times as large. */
async function makeSpellings() {
  const folder = "src/core/beat/generated";
  await mkdir(folder, { recursive: true });
  const spelt = (name) => ROOTS.map((root) => scaleType(name).intervals.map((interval) => transpose(root, interval)));
  const table = Object.fromEntries(SCALES.map((name) => [name, spelt(name)]));
  await writeFile(
    `${folder}/spellings.ts`,
    `export const ROOT_NAMES = ${JSON.stringify(ROOTS)} as const;\nexport const SPELLINGS = ${JSON.stringify(table)} as const;\n`,
  );
}

/** Problems are told by place and value (`describe-problem.ts`): the schemas that each of them names are half of a validator. */
function withoutSchemas(code) {
  return code
    .replaceAll(/\bschema:(?:(?!\bschema:).)*?,parentSchema:(?:(?!\bschema:).)*?,data\b/g, "data")
    .replaceAll(/schemaPath:"[^"]*",/g, "");
}

/**
 * @param schemas the schema, and before it those that it refers to
 * @param allErrors tells all that is wrong, which takes longer; else the first thing
 */
async function makeValidator(name, schemas, allErrors = false) {
  const parsed = await Promise.all(
    schemas.map(async (schema) =>
      // What is said for readers needs not be carried along.
      JSON.parse(await readFile(`docs/schema/${schema}.schema.json`, "utf8"), (key, value) =>
        typeof value === "string" && (key === "description" || key === "title") ? undefined : value,
      ),
    ),
  );
  const ajv = new Ajv({
    schemas: parsed,
    allErrors,
    verbose: true,
    strict: true,
    strictTypes: false,
    discriminator: true,
    code: { source: true, esm: true },
  });
  const code = standaloneCode.default(ajv, ajv.getSchema(parsed.at(-1).$id));
  await mkdir(generated, { recursive: true });
  // The validator asks for one helper of Ajv by require; bundling makes it a module like any other.
  await writeFile(`${generated}/${name}.source.mjs`, withoutSchemas(code));
  await build({
    entryPoints: [`${generated}/${name}.source.mjs`],
    outfile: `${generated}/${name}.js`,
    bundle: true,
    format: "esm",
    logLevel: "warning",
  });
  await writeFile(
    `${generated}/${name}.d.ts`,
    `import type { ValidateFunction } from "ajv";\ndeclare const validate: ValidateFunction;\nexport default validate;\n`,
  );
}

const bundle = (source, outfile, more = {}) =>
  build({
    entryPoints: [source],
    outfile,
    bundle: true,
    format: "esm",
    target: "es2022",
    minify: true,
    legalComments: "none",
    logLevel: "warning",
    ...more,
  });

/**
 * The icons that the interface has, as components of a few bytes each: those of the library's own package are ten times as
 * large. A file each, so that a view brings its own along.
 */
async function makeIcons(names) {
  const folder = "src/ui/icons/generated";
  await mkdir(folder, { recursive: true });
  await Promise.all(
    names.map(async (name) => {
      const svg = await readFile(`node_modules/bootstrap-icons/icons/${name}.svg`, "utf8");
      const shapes = /<svg[^>]*>([\s\S]*)<\/svg>/.exec(svg)[1].trim().replaceAll("fill-rule", "fillRule");
      const component = name.replace(/(^|-)(\w)/g, (_, __, letter) => letter.toUpperCase());
      const made = `export const ${component} = icon(<>${shapes.replaceAll(/\n\s*/g, "")}</>);`;
      await writeFile(`${folder}/${name}.tsx`, `import { icon } from "../icon";\n\n${made}\n`);
    }),
  );
}

await makeSpellings();
await makeIcons(ICONS);
await makeValidator("beat-validator", ["groove", "beat"]);
await makeValidator("beat-1-validator", ["groove", "beat-1"]);
await makeValidator("groove-validator", ["groove"]);
await makeValidator("kit-validator", ["groove", "beat", "kit"]);
await makeValidator("journal-validator", ["groove", "beat", "journal"]);
await makeValidator("lookback-validator", ["groove", "beat", "lookback"]);
await makeValidator("settings-validator", ["settings"], true);
await makeValidator("profile-validator", ["profile"], true);
await makeValidator("echo-mark-validator", ["echo-mark"]);
await makeValidator("step-validator", ["step"]);
await bundle("src/engine/processor.ts", "public/engine/processor.js");
await bundle("src/workers/render.worker.ts", "public/engine/render-worker.js");
await bundle("src/workers/file.worker.ts", "public/engine/file-worker.js");
await bundle("src/workers/recover.worker.ts", "public/engine/recover-worker.js");
await bundle("src/workers/offline.worker.ts", "build/offline-worker.js");
await bundle("src/workers/render-thread.ts", "build/render-thread.mjs", {
  platform: "node",
  external: ["piscina"],
});
