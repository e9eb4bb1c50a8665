/** Letters that have not arrived: those that wait for the mail server, and those that it refused. */
import { rows, run } from "../store/database.ts";
import { type Page, pageOf } from "./pages.ts";

export interface ListedLetter {
  id: string;
  /** About an account, or a message of a course. */
  kind: "account" | "course";
  /** The course's code; empty for letters about accounts. */
  course: string;
  address: string;
  /** Of letters about accounts only: what people are written in courses is theirs. */
  subject: string;
  state: "waiting" | "refused";
  at: number;
  tries: number;
  nextAt: number;
  error: string;
}

const either = `SELECT id, 'account' AS kind, '' AS course, address, subject, state, at, tries, next_at AS nextAt, error
    FROM account_letters WHERE state IN ('waiting', 'refused')
  UNION ALL SELECT d.id, 'course', c.code, d.address, '', d.state, d.at, d.tries, d.next_at, d.error
    FROM deliveries d JOIN courses c ON c.id = d.course_id
    WHERE d.state IN ('waiting', 'refused') AND d.address IS NOT NULL`;

/** The refused first, then those that have waited longest. */
export async function lettersListed(asked: number): Promise<Page<ListedLetter>> {
  const [count] = await rows<{ all: number }>(`SELECT COUNT(*) AS \`all\` FROM (${either}) AS letters`);
  const { from, most, ...about } = pageOf(asked, Number(count?.all ?? 0));
  const found = await rows<ListedLetter>(
    `SELECT * FROM (${either}) AS letters ORDER BY state = 'waiting', at, id LIMIT ${most} OFFSET ${from}`,
  );
  return { ...about, rows: found };
}

/** Has a letter tried again at once; false where it is neither waiting nor refused. */
export async function tryAgain(id: string, at: number): Promise<boolean> {
  const set = "SET state = 'waiting', tries = 0, next_at = ? WHERE id = ? AND state IN ('waiting', 'refused')";
  const done = await Promise.all(
    ["account_letters", "deliveries"].map((table) => run(`UPDATE ${table} ${set}`, [at, id])),
  );
  return done.some((count) => count > 0);
}

/** The same of all that were refused; gives how many there were. */
export async function tryAllAgain(at: number): Promise<number> {
  const set = "SET state = 'waiting', tries = 0, next_at = ? WHERE state = 'refused'";
  const done = await Promise.all(["account_letters", "deliveries"].map((table) => run(`UPDATE ${table} ${set}`, [at])));
  return done.reduce((sum, count) => sum + count, 0);
}
