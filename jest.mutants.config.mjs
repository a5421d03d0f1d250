import base from "./jest.config.mjs";

/** The tests that a folder's mutants are shown to: quick ones, beside the code or about it. */
export default async () => ({
  ...(await base()),
  setupFiles: ["<rootDir>/tests/support/first-failure.ts"],
  testSequencer: "<rootDir>/tests/support/as-listed.cjs",
  testMatch: process.env.MUTANT_TESTS.split(",").map((path) => `<rootDir>/${path}`),
});
