import fc from "fast-check";

// A small fault is noticed with the first failure: no smaller case is looked for, and fewer are tried.
fc.configureGlobal({ endOnFailure: true, numRuns: 30 });
