/**
 * Whether imports run downwards, no folders import each other in a circle, and none has grown too large to be looked through.
 * With `picture` it draws docs/layers.md anew; without, it says when that is not what the imports are.
 */
import { spawnSync } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import { dirname } from "node:path";
import { sourceFiles } from "./source-files.mjs";

const MOST_FILES = 20;
const MOST_OUTPUT_BYTES = 2 ** 28;
const PICTURE = "docs/layers.md";
/** Folders of folders that are drawn, with what their picture is of. */
const DRAWN = {
  src: "All layers",
  "src/core": "The core",
  "src/store": "The store",
  "src/ui": "The interface",
};

/** All imports, and where they break a rule. */
function cruise() {
  const args = ["src", "cli", "--config", ".dependency-cruiser.cjs", "-T", "json"];
  return JSON.parse(
    spawnSync("node_modules/.bin/depcruise", args, { encoding: "utf8", maxBuffer: MOST_OUTPUT_BYTES }).stdout,
  );
}

/** @returns true where no import breaks a rule */
function obeys({ summary }) {
  for (const { rule, from, to, cycle = [] } of summary.violations)
    console.log(`${rule.name}: ${[from, to, ...cycle.map(({ name }) => name)].join(" -> ")}`);
  return summary.violations.length === 0;
}

function checkFolders() {
  const counts = new Map();
  for (const folder of sourceFiles().map((file) => dirname(file))) counts.set(folder, (counts.get(folder) ?? 0) + 1);
  const large = [...counts].filter(([folder, count]) => /^(src|bench|tests)\b/.test(folder) && count > MOST_FILES);
  for (const [folder, count] of large)
    console.log(`${folder} has ${count} files: make rooms of at most ${MOST_FILES}.`);
  return large.length === 0;
}

/** @returns of each room of a folder, the rooms it imports from */
function roomsOf(modules, folder) {
  const roomOf = (file) => (file.startsWith(`${folder}/`) ? file.slice(folder.length + 1).split("/")[0] : undefined);
  const rooms = new Map();
  for (const { source, dependencies } of modules) {
    const from = roomOf(source);
    // Files that lie beside the rooms are for all of them.
    if (!from || /\.\w+$/.test(from)) continue;
    if (!rooms.has(from)) rooms.set(from, new Set());
    for (const { resolved } of dependencies) {
      const to = roomOf(resolved);
      if (to && to !== from && !/\.\w+$/.test(to)) rooms.get(from).add(to);
    }
  }
  return rooms;
}

/** Leaves away what follows from other imports: a room above another that is above a third is above that one, too. */
function drawn(rooms) {
  const below = new Map();
  const reach = (room) => {
    if (!below.has(room)) below.set(room, new Set([...(rooms.get(room) ?? [])].flatMap((to) => [to, ...reach(to)])));
    return below.get(room);
  };
  return [...rooms].sort().flatMap(([from, direct]) => {
    const kept = [...direct].sort().filter((to) => ![...direct].some((other) => other !== to && reach(other).has(to)));
    return kept.length === 0 ? [`  ${from}`] : kept.map((to) => `  ${from} --> ${to}`);
  });
}

function picture({ modules }) {
  const parts = Object.entries(DRAWN).map(
    ([folder, title]) =>
      `## ${title}: \`${folder}\`\n\n\`\`\`mermaid\nflowchart TD\n${drawn(roomsOf(modules, folder)).join("\n")}\n\`\`\`\n`,
  );
  return `# What is above what

Drawn by \`npm run layers -- picture\` from the imports themselves, without tests. An arrow is "imports from"; what follows from
other arrows is left out, and so are files beside the rooms, which all of them may use.

${parts.join("\n")}`;
}

const cruised = cruise();
const right = [obeys(cruised), checkFolders()].every(Boolean);
if (!right) process.exit(1);
const made = picture(cruised);
if (process.argv[2] === "picture") writeFileSync(PICTURE, made);
const isCurrent = readFileSync(PICTURE, "utf8") === made;
if (!isCurrent) console.log(`${PICTURE} is not what the imports are: draw it anew by npm run layers -- picture.`);
process.exit(isCurrent ? 0 : 1);
