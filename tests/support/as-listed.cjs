const { default: Sequencer } = require("@jest/test-sequencer");

/** Runs the tests that small faults are shown to as they are listed: the quickest first, which mostly is enough. */
module.exports = class AsListed extends Sequencer {
  sort(tests) {
    const listed = process.env.MUTANT_TESTS.split(",").map((path) => path.replace(/.*\//, ""));
    const place = ({ path }) => listed.findIndex((name) => path.endsWith(`/${name}`));
    return [...tests].sort((a, b) => place(a) - place(b));
  }
};
