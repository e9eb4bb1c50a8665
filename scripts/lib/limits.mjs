/**
 * Functions have at most 60 lines and a cognitive complexity of 15. The files of biome.json's last override are excepted:
 * they were longer before that rule. The list only shrinks.
 */
import { spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { root } from "./machine.mjs";

const limits = ["lint/complexity/noExcessiveCognitiveComplexity", "lint/complexity/noExcessiveLinesPerFunction"];

/** How many rules of the linter are put aside for a line. */
export function suppressions() {
  const found = spawnSync(
    "git",
    ["grep", "-c", "--untracked", "biome-ignore lint/", "--", "src", "demo", "benchmarks"],
    {
      cwd: root,
      encoding: "utf8",
    },
  );
  return found.stdout.split("\n").reduce((sum, line) => sum + Number(line.split(":")[1] ?? 0), 0);
}

/** The files that are excepted, and those of them that keep to the limits by now. */
export function exceptions() {
  const config = JSON.parse(readFileSync(join(root, "biome.json"), "utf8"));
  const { includes } = config.overrides.pop();
  const folder = mkdtempSync(join(tmpdir(), "amber-limits-"));
  try {
    // The same rules without the exceptions, asked of the excepted files alone.
    writeFileSync(join(folder, "biome.json"), JSON.stringify({ ...config, vcs: { enabled: false } }));
    const files = includes.map((name) => name.replaceAll("\\", ""));
    const { stdout } = spawnSync(
      join(root, "node_modules/.bin/biome"),
      ["lint", `--config-path=${folder}`, "--max-diagnostics=none", "--reporter=json", ...files],
      { cwd: root, encoding: "utf8", maxBuffer: 1e9 },
    );
    const { diagnostics } = JSON.parse(stdout.slice(stdout.indexOf("{")));
    const beyond = new Set(
      diagnostics
        .filter(({ category }) => limits.includes(category))
        .map(({ location }) => location.path.file ?? location.path),
    );
    return { files, kept: files.filter((file) => !beyond.has(file)) };
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
