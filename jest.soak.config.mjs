import { readdirSync, readFileSync } from "node:fs";
import base from "./jest.config.mjs";

/** Found in files that have another chance with another seed. */
const SEEDED = /support\/seeds"|from "fast-check"/;

/** Rounds of `npm run soak`: the tests that draw what they do, with what comes after the seeds of the round before. */
export default async () => {
  const files = ["src", "tests/reference"].flatMap((folder) =>
    readdirSync(folder, { recursive: true })
      .filter((name) => /\.test\.tsx?$/.test(name))
      .map((name) => `${folder}/${name}`),
  );
  const seeded = files.filter((file) => SEEDED.test(readFileSync(file, "utf8")));
  return { ...(await base()), testMatch: seeded.map((file) => `<rootDir>/${file}`) };
};
