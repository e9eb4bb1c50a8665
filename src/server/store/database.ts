/** The connection pool, and transactions that try again after a deadlock or a failed certification. */
import { setTimeout } from "node:timers/promises";
import mysql, { type PoolConnection, type ResultSetHeader, type RowDataPacket } from "mysql2/promise";
import { config } from "../config.ts";
import { type Connections, openNodes } from "./nodes.ts";

let pool: Connections | null = null;
/** No statement is waited for longer, in milliseconds. */
let statementPatience = 60_000;

export function database(): Connections {
  if (pool) return pool;
  const { AMBER_DATABASE_URL: named, AMBER_DATABASE_PATIENCE } = config();
  statementPatience = AMBER_DATABASE_PATIENCE;
  if (!named) throw new Error("AMBER_DATABASE_URL is not set. Start the application with npm start.");
  const addresses = named.trim().split(/\s+/);
  const options = {
    connectionLimit: 10,
    // Whoever finds this many waiting before them is told so at once.
    queueLimit: 2000,
    connectTimeout: 5000,
    charset: "utf8mb4_unicode_ci",
    supportBigNumbers: true,
    decimalNumbers: true,
    // Each connection keeps its own, and the server has room for 16,000 in all.
    maxPreparedStatements: 500,
  };
  pool = addresses.length > 1 ? openNodes(addresses, options) : mysql.createPool({ uri: addresses[0], ...options });
  return pool;
}

export async function closeDatabase(): Promise<void> {
  await pool?.end();
  pool = null;
}

type Value = string | number | boolean | null | Uint8Array;
type Runner = Connections | PoolConnection;

/** Asks over a connection. One that does not answer in time is given up: its answer may still come. */
async function asking<Answer>(runner: Runner, ask: (connection: PoolConnection) => Promise<Answer>): Promise<Answer> {
  const isPool = "getConnection" in runner;
  const connection = isPool ? await runner.getConnection() : runner;
  try {
    return await ask(connection);
  } catch (error) {
    if (codeOf(error) === "PROTOCOL_SEQUENCE_TIMEOUT") connection.destroy();
    throw error;
  } finally {
    if (isPool) connection.release();
  }
}

const execute = <Answer extends RowDataPacket[] | ResultSetHeader>(sql: string, values: Value[], runner: Runner) => {
  const once = () =>
    asking(runner, async (connection) => {
      const [answer] = await connection.execute<Answer>({ sql, timeout: statementPatience }, values);
      return answer;
    });
  // Within a transaction all of it is tried again, by whoever began it.
  return "getConnection" in runner ? tryingAgain(once, () => isReading.test(sql)) : once();
};
/** Statements that change nothing, and may be asked twice. */
const isReading = /^\s*(?:SELECT|WITH)\b/i;

const codeOf = (error: unknown): string => String((error as { code?: unknown } | null)?.code ?? "");
/** No connection was there: nothing was sent. */
const unsentCodes = new Set(["ECONNREFUSED", "ENOTFOUND", "EHOSTUNREACH", "POOL_NOEXIST", "POOL_NONEONLINE"]);
/** The connection is gone, and with it what was not committed. */
const lostCodes = new Set([
  ...["ECONNRESET", "EPIPE", "ETIMEDOUT"],
  ...["PROTOCOL_CONNECTION_LOST", "PROTOCOL_SEQUENCE_TIMEOUT", "ER_SERVER_SHUTDOWN"],
]);
const awayCodes = new Set([
  ...lostCodes,
  ...["ER_CON_COUNT_ERROR", "ER_UNKNOWN_COM_ERROR"],
  ...[
    "ER_QUERY_INTERRUPTED",
    "ER_STATEMENT_TIMEOUT",
    "ER_DISK_FULL",
    "ER_RECORD_FILE_FULL",
    "ER_OPTION_PREVENTS_STATEMENT",
  ],
]);
/** Whether an error says that the database does not answer, has no room, or has too many waiting: trying later may help. */
export const isDatabaseAway = (error: unknown): boolean =>
  awayCodes.has(codeOf(error)) ||
  isCutOff(error) ||
  wasNotSent(error) ||
  (error instanceof Error && /^Queue limit/.test(error.message));
/** Galera's word of a node that lost the others while it wrote: `code` and number are those of any failed commit. */
const isCutOff = (error: unknown): boolean => error instanceof Error && /provider status: /.test(error.message);
/** There was no connection, or it had been closed before the statement, a commit for instance: nothing of it was kept. */
const wasNotSent = (error: unknown): boolean =>
  unsentCodes.has(codeOf(error)) ||
  (error instanceof Error && /^(Pool is closed|Can't add new command)/.test(error.message));

export async function rows<Row>(sql: string, values: Value[] = [], runner: Runner = database()): Promise<Row[]> {
  return (await execute<RowDataPacket[]>(sql, values, runner)) as unknown as Row[];
}

/** Words as they stand in a LIKE: what has a meaning there means itself. */
export const likeWords = (words: string): string => words.replace(/[\\%_]/g, "\\$&");

/** The question marks of a list of values in a statement: `IN (${parameters(ids)})`. */
export const parameters = (list: string[]) => list.map(() => "?").join(", ");

/** A JSON column: the driver parses it on some servers and gives its text on others. */
export const fromJson = <Value>(column: Value | string): Value =>
  typeof column === "string" ? (JSON.parse(column) as Value) : column;

/** How many rows the statement changed. */
export async function run(sql: string, values: Value[], runner: Runner = database()): Promise<number> {
  return (await execute<ResultSetHeader>(sql, values, runner)).affectedRows;
}

const errnoOf = (error: unknown): number => Number((error as { errno?: unknown } | null)?.errno ?? 0);
// Deadlock, lock wait and Galera's failed certification. Where many write one course through several nodes it takes some tries.
const conflicts = new Set([1205, 1213]);
/** Whether others wrote the same at that moment: nothing was kept, and it may be tried again. */
export const isConflict = (error: unknown): boolean => conflicts.has(errnoOf(error));
/** Galera's "not ready". */
const notReady = 1047;
/**
 * For how long it is begun again, and how long is waited at most between two tries, in milliseconds. Nodes take five to ten
 * seconds until they agree that one of them is gone, and answer nothing until then.
 */
const [tryingMs, longestWait] = [12_000, 500];

/**
 * Does it again where nothing of it was kept; with several nodes also where the connection was lost, if it may be done twice:
 * another node is asked then.
 */
async function tryingAgain<Answer>(once: () => Promise<Answer>, mayTwice: () => boolean): Promise<Answer> {
  const begun = Date.now();
  for (let attempt = 1; ; attempt++) {
    try {
      return await once();
    } catch (error) {
      // Whoever asked has waited long enough.
      const isLate = Date.now() - begun > Math.min(tryingMs, statementPatience);
      if (isLate || !mayTryAgain(error, mayTwice)) throw error;
      if (!isConflict(error)) await pool?.look?.();
      await setTimeout(Math.min(longestWait, 20 * 2 ** attempt) * Math.random());
    }
  }
}

function mayTryAgain(error: unknown, mayTwice: () => boolean): boolean {
  if (isConflict(error) || errnoOf(error) === notReady) return true;
  return (
    pool?.look !== undefined && (wasNotSent(error) || ((lostCodes.has(codeOf(error)) || isCutOff(error)) && mayTwice()))
  );
}

export function transaction<Result>(work: (connection: PoolConnection) => Promise<Result>): Promise<Result> {
  // Of a commit that was not answered nobody knows whether it was kept.
  let isCommitting = false;
  const once = async () => {
    isCommitting = false;
    const connection = await database().getConnection();
    try {
      await connection.beginTransaction();
      const result = await work(connection);
      isCommitting = true;
      await connection.commit();
      return result;
    } catch (error) {
      // A connection that died cannot roll back; the database already has.
      await connection.rollback().catch(() => connection.destroy());
      throw error;
    } finally {
      connection.release();
    }
  };
  return tryingAgain(once, () => !isCommitting);
}

/** INSERT of many rows in few statements. They are sent as text: one of each length prepared would fill the server. */
export async function insertMany(
  table: string,
  columns: string[],
  values: Exclude<Value, Uint8Array>[][],
  runner: Runner,
  ending = "",
  told: (count: number) => void = () => {},
): Promise<void> {
  const size = 5000;
  const names = columns.map((column) => `\`${column}\``).join(", ");
  for (let from = 0; from < values.length; from += size) {
    const chunk = values.slice(from, from + size);
    const sql = `INSERT INTO \`${table}\` (${names}) VALUES ? ${ending}`;
    await asking(runner, (connection) => connection.query({ sql, timeout: statementPatience }, [chunk]));
    told(chunk.length);
  }
}
