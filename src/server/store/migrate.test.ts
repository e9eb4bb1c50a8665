/** Migrations: applied once, and not over a database that a newer version has changed. */
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, expect, test } from "vitest";
import { closeDatabase, run } from "./database.ts";
import { migrate } from "./migrate.ts";

const folder = join(import.meta.dirname, "../../../database");
const newer = mkdtempSync(join(tmpdir(), "amber-migrations-"));
afterAll(async () => {
  rmSync(newer, { recursive: true, force: true });
  await closeDatabase();
});

test("an older version leaves a newer one's database as it is, says so, and keeps no lock", async () => {
  await migrate(folder, () => undefined);
  const name = "9999_of_a_newer_version.sql";
  await run("INSERT INTO migrations (name) VALUES (?)", [name]);
  try {
    for (let twice = 0; twice < 2; twice++)
      await expect(migrate(folder, () => undefined)).rejects.toThrow(
        `The database is of a newer version (it has had ${name}). Start that version, or restore a backup of this one.`,
      );
  } finally {
    await run("DELETE FROM migrations WHERE name = ?", [name]);
  }
  const said: string[] = [];
  await migrate(folder, (line) => said.push(line));
  expect(said).toEqual([]);
});

test("a migration that is no SQL stops there, and the next start finds it", async () => {
  writeFileSync(join(newer, "0001_broken.sql"), "CREATE TABEL nothing (id INT);\n");
  await run("CREATE TABLE IF NOT EXISTS kept_migrations AS SELECT name FROM migrations", []);
  await run("DELETE FROM migrations", []);
  try {
    await expect(migrate(newer, () => undefined)).rejects.toThrow(/SQL syntax/);
    await expect(migrate(newer, () => undefined)).rejects.toThrow(/SQL syntax/);
  } finally {
    await run("INSERT IGNORE INTO migrations SELECT name FROM kept_migrations", []);
    await run("DROP TABLE kept_migrations", []);
  }
});

test("two that start at once migrate once, and one whose claim ran out is not waited for", async () => {
  rmSync(join(newer, "0001_broken.sql"), { force: true });
  writeFileSync(
    join(newer, "0001_once.sql"),
    "CREATE TABLE once_only (id INT);\nINSERT INTO once_only VALUES (SLEEP(1));\n",
  );
  await run("CREATE TABLE kept_migrations AS SELECT name FROM migrations", []);
  await run("DELETE FROM migrations", []);
  const said: string[] = [];
  try {
    await run(
      "UPDATE migrating SET holder = 'somebody', until = UTC_TIMESTAMP(3) + INTERVAL 1 SECOND WHERE id = 1",
      [],
    );
    const begun = Date.now();
    await Promise.all([1, 2].map(() => migrate(newer, (line) => said.push(line))));
    expect(said).toEqual(["Migrated 0001_once.sql"]);
    expect(Date.now() - begun).toBeGreaterThan(1000);
  } finally {
    await run("DELETE FROM migrations", []);
    await run("INSERT IGNORE INTO migrations SELECT name FROM kept_migrations", []);
    await run("DROP TABLE kept_migrations", []);
    await run("DROP TABLE IF EXISTS once_only", []);
  }
});
