/** Reads the JSON files of test runners: how many passed and failed, and how long each file took by the clock. */

/** @param results of Jest's `--json`. @param root what paths are shortened by */
export function readJest(results, root) {
  return {
    passed: results.numPassedTests,
    failed: results.numFailedTests + results.numPendingTests + results.numRuntimeErrorTestSuites,
    files: results.testResults.map(({ name, startTime, endTime }) => ({
      name: name.replace(`${root}/`, ""),
      seconds: (endTime - startTime) / 1000,
    })),
  };
}

/** @param results of Playwright's JSON reporter */
export function readPlaywright({ stats, suites, config }) {
  const folder = config.rootDir.split("/").slice(-2).join("/");
  return {
    passed: stats.expected,
    failed: stats.unexpected + stats.flaky + stats.skipped,
    files: suites.map((suite) => ({ name: `${folder}/${suite.file}`, seconds: secondsOf(suite) })),
  };
}

function secondsOf({ specs = [], suites = [] }) {
  const own = specs.flatMap(({ tests }) =>
    tests.flatMap(({ results }) => results.map(({ duration }) => duration / 1000)),
  );
  return [...own, ...suites.map(secondsOf)].reduce((sum, seconds) => sum + seconds, 0);
}
