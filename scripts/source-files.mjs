import { spawnSync } from "node:child_process";
import { existsSync } from "node:fs";

/** The files that git knows, but for those that are gone: what somebody left in a scratch folder is nobody's matter. Without git all of them. */
export function sourceFiles() {
  const { status, stdout } = spawnSync("git", ["ls-files", "-z"], { encoding: "utf8" });
  if (status !== 0) return ["."];
  return stdout.split("\0").filter((file) => file && existsSync(file));
}
