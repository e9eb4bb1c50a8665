/** Imports point one way: pages, then interface and server, then core; and within core, from each layer to those before it. */
const layers = [
  ["memo\\.ts", "text", "clock", "sets"],
  ["formats"],
  ["plan"],
  ["placement"],
  ["timing"],
  ["reach"],
  ["gradebook"],
  ["attempts"],
  ["intake"],
  ["rolling"],
  ["commands\\.ts"],
  ["access"],
  ["messages"],
  ["review"],
  ["line"],
];
const inCore = (names) => `^src/core/(${names.join("|")})(/|$)`;
/** What a layer of the core may not import: those after it. A type alone may come from the registry of commands. */
const upward = layers.slice(0, -1).map((names, at) => ({
  name: `core-order-${names.join("-").replaceAll("\\.ts", "")}`,
  comment: "Each folder of the core imports only those before it, in the order of docs/architecture.md.",
  severity: "error",
  from: { path: inCore(names), pathNot: "\\.test\\.ts$" },
  to: {
    path: inCore(layers.slice(at + 1).flat()),
    dependencyTypesNot: ["type-only"],
  },
}));
module.exports = {
  forbidden: [
    ...upward,
    { name: "no-circles", severity: "error", from: {}, to: { circular: true } },
    {
      name: "core-is-pure",
      comment: "The core runs in browser, worker and server alike: no interface, no server, no Node.",
      severity: "error",
      from: { path: "^src/core", pathNot: "\\.test\\.ts$|^src/core/tests/" },
      to: {
        pathNot: [
          "^src/core",
          "^node_modules/(zod|uuid|papaparse|@types/papaparse|@internationalized/date|exceljs|numfmt|fflate|fast-xml-parser|ical-generator|ical.js|rrule|windows-iana|timezones-ical-library|@date-fns/tz|d3-array|@types/d3-array|jstat|fast-deep-equal)/",
        ],
      },
    },
    {
      name: "core-tests-use-core",
      severity: "error",
      from: { path: "^src/core/.*\\.test\\.ts$" },
      to: { path: "^src/(interface|server|pages|workers)" },
    },
    {
      name: "nothing-imports-pages",
      severity: "error",
      from: { pathNot: "^src/pages" },
      to: { path: "^src/pages" },
    },
    {
      name: "workers-only-core",
      severity: "error",
      from: { path: "^src/workers" },
      to: { path: "^src/", pathNot: "^src/(core|workers)" },
    },
    {
      name: "interface-without-server",
      comment: "Islands reach the server by its API. Astro components on the server may name its types.",
      severity: "error",
      from: { path: "^src/interface/.*\\.tsx?$" },
      to: { path: "^src/server" },
    },
    {
      name: "api-only-core",
      comment: "The contract of the API is schemas over the core's: server and client both stand on it.",
      severity: "error",
      from: { path: "^src/api", pathNot: "\\.test\\.ts$" },
      to: { path: "^src/", pathNot: "^src/(api|core)" },
    },
    {
      name: "server-without-interface",
      severity: "error",
      // A test may hold what the editor makes against what the server keeps of it.
      from: { path: "^src/server", pathNot: "\\.test\\.ts$" },
      to: { path: "^src/(interface|pages|workers)" },
    },
    {
      name: "application-without-demo",
      severity: "error",
      from: { path: "^src/(core|api|server|interface|pages|workers)", pathNot: "\\.test\\.ts$" },
      to: { path: "^(demo|benchmarks)" },
    },
    {
      name: "all-resolved",
      severity: "error",
      from: {},
      to: { couldNotResolve: true, pathNot: "^astro:|^astro/client$|\\?worker$" },
    },
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
    enhancedResolveOptions: {
      extensions: [".ts", ".tsx", ".mjs", ".js", ".css", ".json"],
      exportsFields: ["exports"],
      conditionNames: ["import", "node", "default", "types"],
    },
  },
};
