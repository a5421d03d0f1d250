const { MUTANT_PLACES: places, MUTANT_NAME: name } = process.env;

/** Started by scripts/mutants.mjs, a folder at a time. */
export default {
  testRunner: "jest",
  jest: { projectType: "custom", configFile: "jest.mutants.config.mjs", enableFindRelatedTests: false },
  coverageAnalysis: "perTest",
  mutate: places.split(","),
  // Messages are for people; a table is its own test.
  mutator: { excludedMutations: ["StringLiteral"] },
  ignoreStatic: true,
  ignorePatterns: ["/.next", "/build", "/public", "/test-results", "/docs", "/bench", "/tests/e2e"],
  concurrency: 2,
  incremental: true,
  incrementalFile: `build/mutants/${name}.json`,
  tempDirName: "build/mutants/sandbox",
  reporters: ["json", "progress-append-only"],
  jsonReporter: { fileName: `build/mutants/${name}.report.json` },
  timeoutMS: 10_000,
};
