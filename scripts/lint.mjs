/** `node scripts/lint.mjs format` or `code`: checks the files that git knows. */
import { spawnSync } from "node:child_process";
import { sourceFiles } from "./source-files.mjs";

const COMMANDS = { format: ["oxfmt", "--check", "--no-error-on-unmatched-pattern"], code: ["oxlint"] };

const [command, ...args] = COMMANDS[process.argv[2]];
const { status } = spawnSync(`node_modules/.bin/${command}`, [...args, ...sourceFiles()], { stdio: "inherit" });
process.exit(status ?? 1);
