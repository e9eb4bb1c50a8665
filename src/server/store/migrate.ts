/** Numbered SQL files, applied in order and recorded. A lock keeps two starting processes from doing it twice. */
import { readdir, readFile } from "node:fs/promises";
import { join } from "node:path";
import type { RowDataPacket } from "mysql2/promise";
import { database, rows, run } from "./database.ts";

export async function migrate(folder: string, say: (line: string) => void): Promise<void> {
  const connection = await database().getConnection();
  try {
    const [[lock]] = await connection.query<RowDataPacket[]>("SELECT GET_LOCK('amber_migrations', 60) AS got");
    if (lock?.got !== 1)
      throw new Error("Another process is migrating the database and did not finish within a minute.");
    await connection.query(
      "CREATE TABLE IF NOT EXISTS migrations (name VARCHAR(100) NOT NULL PRIMARY KEY) ENGINE = InnoDB DEFAULT CHARSET = utf8mb4",
    );
    const done = new Set(
      (await rows<{ name: string }>("SELECT name FROM migrations", [], connection)).map(({ name }) => name),
    );
    const files = (await readdir(folder)).filter((name) => /^\d{4}_.*\.sql$/.test(name)).sort();
    const unknown = [...done].filter((name) => !files.includes(name)).sort();
    // Tables of a newer version may hold what this one would lose: it does not touch them.
    if (unknown.length > 0)
      throw new Error(
        `The database is of a newer version (it has had ${unknown.join(", ")}). Start that version, or restore a backup of this one.`,
      );
    for (const name of files) {
      if (done.has(name)) continue;
      const sql = (await readFile(join(folder, name), "utf8")).replace(/^--.*$/gm, "");
      for (const statement of sql.split(/;\s*$/m)) if (statement.trim()) await connection.query(statement);
      await run("INSERT INTO migrations (name) VALUES (?)", [name], connection);
      say(`Migrated ${name}`);
    }
  } finally {
    await connection.query("SELECT RELEASE_LOCK('amber_migrations')").catch(() => undefined);
    connection.release();
  }
}
