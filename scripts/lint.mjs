/** `node scripts/lint.mjs format` or `code`: checks the files that git knows. */
import { spawnSync } from "node:child_process";
import { sourceFiles } from "./source-files.mjs";

const CODE = /^\.$|\.(ts|tsx|mjs|cjs)$/;
const COMMANDS = {
  format: (files) => ["prettier", "--check", "--ignore-unknown", "--log-level=warn", ...files],
  code: (files) => ["eslint", "--no-warn-ignored", ...files.filter((file) => CODE.test(file))],
};

const [command, ...args] = COMMANDS[process.argv[2]](sourceFiles());
const { status } = spawnSync(`node_modules/.bin/${command}`, args, { stdio: "inherit" });
process.exit(status ?? 1);
