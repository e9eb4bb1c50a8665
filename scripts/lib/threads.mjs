/** What the server's worker threads run, bundled into one file: Astro bundles the server alone. */
import { fileURLToPath } from "node:url";
import { build, context } from "esbuild";

const bundle = (outfile) => ({
  entryPoints: [fileURLToPath(new URL("../../src/server/threads/entry.ts", import.meta.url))],
  outfile,
  bundle: true,
  platform: "node",
  target: "node20",
  format: "esm",
  packages: "external",
  logLevel: "error",
});
export const buildThreads = (outfile) => build(bundle(outfile));

/** The same again at every change, until `dispose` is called. */
export async function watchThreads(outfile) {
  await buildThreads(outfile);
  const watching = await context(bundle(outfile));
  await watching.watch();
  return watching;
}

/** Builds them with the application, beside its server. */
export const threads = () => {
  let server;
  return {
    name: "worker-threads",
    hooks: {
      "astro:config:done": ({ config }) => {
        server = config.build.server;
      },
      "astro:build:done": () => buildThreads(fileURLToPath(new URL("threads.mjs", server))),
    },
  };
};
