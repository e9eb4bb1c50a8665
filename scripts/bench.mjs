/** npm run bench: the work measured against peers and floors. */
import { ensureModules, runScript } from "./lib/machine.mjs";

await ensureModules();
await runScript("bench/run.ts", process.argv.slice(2), {});
