/** Jest takes the package for a module with a default export, which it has not; Node and the bundlers do not. */
exports.__esModule = true;
exports.default = require("../../node_modules/wavefile/dist/wavefile.js");
