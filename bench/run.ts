/** npm run bench: prints a table, and writes bench/results.json. Ratios only: times differ from machine to machine. */
import { writeFileSync } from "node:fs";
import { cpus } from "node:os";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { intakeRows } from "./intake.ts";
import type { Row } from "./measure.ts";
import { reachRows } from "./reach.ts";
import { timingRows } from "./timing.ts";

const rows: Row[] = [...(await reachRows()), ...(await timingRows()), ...(await intakeRows())];
const milliseconds = (value: number) => `${value < 10 ? value.toFixed(2) : Math.round(value)} ms`;
const table = rows.flatMap((row) =>
  row.against.map((other) => ({
    name: row.name,
    sizes: row.note,
    ours: milliseconds(row.ours),
    [other.kind]: `${milliseconds(other.milliseconds)} (${other.name})`,
    ratio: `${(row.ours / other.milliseconds).toFixed(2)} ×`,
  })),
);
console.table(table);
const results = {
  at: new Date().toISOString(),
  node: process.version,
  processor: cpus()[0]?.model,
  rows,
};
writeFileSync(join(dirname(fileURLToPath(import.meta.url)), "results.json"), `${JSON.stringify(results, null, 2)}\n`);
