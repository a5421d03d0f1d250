import nextJest from "next/jest.js";

const create = nextJest({ dir: "./" });

/** Core, formats and store run in plain Node; a component test asks for jsdom in its first line. */
export default create({
  testEnvironment: "node",
  cacheDirectory: "node_modules/.cache/jest",
  testMatch: [
    "<rootDir>/src/**/*.test.{ts,tsx}",
    "<rootDir>/cli/**/*.test.ts",
    "<rootDir>/tests/reference/**/*.test.ts",
  ],
  moduleNameMapper: {
    "^@/(.*)$": "<rootDir>/src/$1",
    "^wavefile/dist/wavefile.js$": "<rootDir>/tests/support/wavefile.cjs",
  },
  testTimeout: 120000,
  modulePathIgnorePatterns: ["<rootDir>/build/"],
  testEnvironmentOptions: { globalsCleanup: "off" },
  // A test's global names are looked up in a sandbox, which takes longer than what is done with them; these are handed in.
  sandboxInjectedGlobals: ["Math", "Number", "Float32Array", "Float64Array", "Int32Array", "Uint8Array", "Infinity"],
});
