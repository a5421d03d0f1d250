/** Imports run downwards only: app -> ui -> store -> engine, inputs, workers -> core. */
const below = {
  core: ["core"],
  engine: ["core", "engine"],
  inputs: ["core", "inputs"],
  workers: ["core", "workers"],
  store: ["core", "engine", "inputs", "workers", "store"],
  ui: ["core", "engine", "inputs", "workers", "store", "ui"],
  // The server's part of the app renders; pages know nothing but the interface.
  app: ["core", "workers", "ui", "app"],
};
const insideCore = {
  time: ["time"],
  beat: ["time", "beat"],
  timing: ["time", "beat", "timing"],
  record: ["time", "beat", "timing", "record"],
  editing: ["time", "beat", "timing", "editing"],
  recover: ["time", "beat", "timing", "record", "recover"],
  sound: ["time", "sound"],
  analysis: ["time", "beat", "timing", "analysis"],
  formats: ["time", "beat", "timing", "record", "recover", "editing", "sound", "formats"],
  playback: ["time", "beat", "timing", "sound", "formats", "playback"],
  demo: ["time", "beat", "timing", "record", "recover", "sound", "formats", "demo"],
};
const layer = (name, allowed) => ({
  name: `${name}-imports-downwards`,
  severity: "error",
  from: { path: `^src/${name}/` },
  to: { path: "^src/", pathNot: allowed.map((folder) => `^src/${folder}/`).concat("^src/core/[^/]+\\.ts$") },
});
module.exports = {
  forbidden: [
    { name: "no-circles", severity: "error", from: {}, to: { circular: true } },
    {
      name: "no-circles-of-folders",
      severity: "error",
      comment: "Each room can be understood, moved or replaced by itself.",
      scope: "folder",
      from: {},
      to: { circular: true },
    },
    { name: "no-orphan-imports", severity: "error", from: {}, to: { couldNotResolve: true } },
    {
      name: "core-is-pure",
      severity: "error",
      comment: "No interface, audio, storage or framework package inside the core.",
      from: { path: "^src/core/" },
      to: { path: "node_modules/(react|react-dom|next|dexie|zustand|comlink|bootstrap|react-bootstrap)/" },
    },
    ...Object.entries(below).map(([name, allowed]) => layer(name, allowed)),
    {
      name: "cli-knows-the-core",
      severity: "error",
      from: { path: "^cli/" },
      to: { path: "^(src|tests|bench|scripts)/", pathNot: "^src/core/" },
    },
    {
      name: "every-core-folder-has-its-place",
      severity: "error",
      from: { path: `^src/core/(?!(${Object.keys(insideCore).join("|")})/)[^/]+/` },
      to: {},
    },
    ...Object.entries(insideCore).map(([name, allowed]) =>
      layer(
        `core/${name}`,
        allowed.map((folder) => `core/${folder}`),
      ),
    ),
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    tsConfig: { fileName: "tsconfig.json" },
    tsPreCompilationDeps: true,
    // Tests may import whatever they need; nothing imports them.
    exclude: { path: ["\\.next/", "\\.test\\.tsx?$"] },
  },
};
