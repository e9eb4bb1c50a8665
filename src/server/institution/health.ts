/** Whether what the application stands on answers: for whoever watches it, and for administrators. */
import { readdir } from "node:fs/promises";
import { config } from "../config.ts";
import { hasRegistrar } from "../intake/registrar.ts";
import { rows } from "../store/database.ts";
import { hasRoom } from "../store/room.ts";

export interface HealthPart {
  name: "database" | "tables" | "disk" | "letters" | "registrar";
  /** `off`: it is not set up, which may be meant so. Only what is `failing` keeps the application from its work. */
  state: "good" | "warning" | "failing" | "off";
  says: string;
}

/** Letters that have waited longer than this, in milliseconds, are on nobody's way. */
const lettersWait = 10 * 60_000;

async function database(): Promise<HealthPart> {
  const begun = Date.now();
  try {
    await rows("SELECT 1");
    return { name: "database", state: "good", says: `It answers in ${Date.now() - begun} ms.` };
  } catch (error) {
    return { name: "database", state: "failing", says: `It does not answer: ${(error as Error).message}` };
  }
}

/** Where the migrations lie beside a program that runs from the checkout. */
const migrations = async (): Promise<string[]> =>
  (await readdir("database").catch(() => [])).filter((name) => /^\d{4}_.*\.sql$/.test(name));

async function tables(): Promise<HealthPart> {
  const done = new Set((await rows<{ name: string }>("SELECT name FROM migrations")).map(({ name }) => name));
  const missing = (await migrations()).filter((name) => !done.has(name));
  return missing.length > 0
    ? { name: "tables", state: "failing", says: `They lack ${missing.join(", ")}. Start the application anew.` }
    : { name: "tables", state: "good", says: `They are as this version needs them (${done.size} migrations).` };
}

async function disk(): Promise<HealthPart> {
  const { AMBER_DATABASE_FOLDER: folder, AMBER_DISK_RESERVE_MB: reserve } = config();
  if (!folder)
    return { name: "disk", state: "off", says: "The database is on another machine: its disk is not watched." };
  return (await hasRoom())
    ? { name: "disk", state: "good", says: `More than ${reserve} MB are free.` }
    : {
        name: "disk",
        state: "failing",
        says: `Fewer than ${reserve} MB are free: nothing can be changed until there is room.`,
      };
}

async function letters(at: number): Promise<HealthPart> {
  const [found] = await rows<{ waiting: number; late: number }>(
    `SELECT COUNT(*) AS waiting, COALESCE(SUM(at < ?), 0) AS late FROM
       (SELECT at FROM deliveries WHERE state = 'waiting' UNION ALL SELECT at FROM account_letters WHERE state = 'waiting') all_letters`,
    [at - lettersWait],
  );
  const waiting = Number(found?.waiting ?? 0);
  const late = Number(found?.late ?? 0);
  if (!config().AMBER_SMTP_URL)
    return {
      name: "letters",
      state: "off",
      says: `No mail server is named (AMBER_SMTP_URL); ${waiting} letters wait.`,
    };
  return late > 0
    ? { name: "letters", state: "warning", says: `${late} of ${waiting} letters have waited longer than ten minutes.` }
    : { name: "letters", state: "good", says: waiting > 0 ? `${waiting} letters are on their way.` : "None waits." };
}

async function registrar(at: number): Promise<HealthPart> {
  if (!hasRegistrar())
    return {
      name: "registrar",
      state: "off",
      says: "No service is named (AMBER_REGISTRAR_URL): rosters come as files.",
    };
  const [found] = await rows<{ failed: number; pulls: number }>(
    "SELECT COALESCE(SUM(state = 'failed'), 0) AS failed, COUNT(*) AS pulls FROM pulls WHERE at > ?",
    [at - 86_400_000],
  );
  const [failed, pulls] = [Number(found?.failed ?? 0), Number(found?.pulls ?? 0)];
  return failed > 0
    ? { name: "registrar", state: "warning", says: `${failed} of ${pulls} pulls of the last day failed.` }
    : { name: "registrar", state: "good", says: `${pulls} pulls in the last day, none failed.` };
}

/** Every part, the database first; where that is away, nothing else is asked. */
export async function health(at: number): Promise<HealthPart[]> {
  const first = await database();
  if (first.state === "failing") return [first];
  return [first, ...(await Promise.all([tables(), disk(), letters(at), registrar(at)]))];
}
export const isReady = (parts: HealthPart[]): boolean => parts.every(({ state }) => state !== "failing");
