/**
 * Workers that share the scripts of the page: `import Worker from "./x.ts?sharing"`, used as one of `?worker`.
 *
 * Vite bundles each `?worker` by itself, so that what it has in common with the page (the core, the schemas) is fetched
 * twice. A worker that is one more entry of the page's own build takes what is common from the same files. It must not
 * import anything with `import()`: Vite writes a loader for the page into those.
 */
const asked = "?sharing";
const known = "\0sharing-worker:";

export const sharingWorkers = () => {
  let serves = false;
  return {
    name: "sharing-workers",
    enforce: "pre",
    configResolved(config) {
      serves = config.command === "serve";
    },
    async resolveId(source, importer) {
      if (!source.endsWith(asked)) return null;
      const path = source.slice(0, -asked.length);
      if (serves) return this.resolve(`${path}?worker`, importer);
      const found = await this.resolve(path, importer);
      if (!found) this.error(`${importer}: there is no ${path} for a worker.`);
      return `${known}${found.id}`;
    },
    load(id, options) {
      if (!id.startsWith(known)) return null;
      // The server draws pages and starts no worker of theirs.
      if (options?.ssr) return "export default class {}";
      const file = this.emitFile({ type: "chunk", id: id.slice(known.length) });
      return `export default class extends Worker {
        constructor(options) { super(import.meta.ROLLUP_FILE_URL_${file}, { ...options, type: "module" }); }
      }`;
    },
  };
};
