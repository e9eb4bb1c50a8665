/**
 * What happens in a course while its workbench is open, told as it happens: what was published and marked, who else is there
 * and what their draft touches, and that one is no longer in it. Everything is asked of the database once a second and
 * course, so that it does not matter which process did it. Source: semantics.md sections 8 and 9.
 */
import { v7 } from "uuid";
import { scopeOf } from "../../core/access/scope.ts";
import { Command, replay } from "../../core/commands.ts";
import type { MarkChange } from "../../core/plan/progress.ts";
import type { MarkLine } from "../../core/review/journal.ts";
import type { LiveState, Present } from "../../core/review/live.ts";
import { type Account, accountOf } from "../accounts/accounts.ts";
import { now } from "../clock.ts";
import { log } from "../log.ts";
import { course, memberIn } from "../store/courses.ts";
import { fromJson, rows, run } from "../store/database.ts";

/** Past so many marks at once the workbench reads all of them anew. */
const mostMarks = 5000;
const beat = 1000;
const forgotten = 20_000;

/** What the database holds of a course at this moment, asked once for everybody who listens. */
interface Snapshot {
  revision: number;
  drafts: string;
  handedIn: string;
  proposed: string;
  lastLine: string;
  present: string;
  at: number;
}
const snapshots = new Map<string, Promise<Snapshot>>();

async function look(courseId: string): Promise<Snapshot> {
  const at = Date.now();
  const [found] = await rows<Omit<Snapshot, "at">>(
    `SELECT c.revision,
       (SELECT COALESCE(SUM(version), 0) FROM drafts WHERE course_id = c.id) AS drafts,
       COALESCE((SELECT CONCAT(at, '/', id) FROM hand_ins WHERE course_id = c.id ORDER BY at DESC, id DESC LIMIT 1), '')
         AS handedIn,
       (SELECT CONCAT(COUNT(*), '/', COALESCE(SUM(state = 'waiting'), 0)) FROM proposals
         WHERE course_id = c.id) AS proposed,
       COALESCE((SELECT MAX(id) FROM journal WHERE course_id = c.id), '') AS lastLine,
       COALESCE((SELECT GROUP_CONCAT(CONCAT(connection, station) ORDER BY connection) FROM presence
         WHERE course_id = c.id AND seen_at > ?), '') AS present
     FROM courses c WHERE c.id = ?`,
    [at - forgotten, courseId],
  );
  return { ...(found ?? { revision: 0, drafts: "", handedIn: "", proposed: "", lastLine: "", present: "" }), at };
}
async function snapshot(courseId: string): Promise<Snapshot> {
  const known = await snapshots.get(courseId)?.catch(() => null);
  if (known && Date.now() - known.at < beat * 0.8) return known;
  const asked = look(courseId);
  snapshots.set(courseId, asked);
  return asked;
}

/** Who else is in the course, once each, with what they drafted. */
async function presentIn(courseId: string, account: Account, knowsDrafts: boolean): Promise<Present[]> {
  const found = await rows<{ accountId: string; name: string; station: string }>(
    `SELECT p.account_id AS accountId, a.display_name AS name, p.station FROM presence p
     JOIN accounts a ON a.id = p.account_id
     WHERE p.course_id = ? AND p.seen_at > ? AND p.account_id <> ? ORDER BY p.seen_at`,
    [courseId, Date.now() - forgotten, account.id],
  );
  const once = [...new Map(found.map((one) => [one.accountId, one])).values()];
  // Alone, as most often, nobody reads the plan for this.
  const stored = knowsDrafts && once.length > 0 ? await course(courseId) : null;
  return Promise.all(
    once.map(async ({ accountId, name, station }) => {
      if (!stored) return { name, station, drafted: 0, says: [] };
      const commands = await rows<{ command: string }>(
        "SELECT command FROM draft_commands WHERE course_id = ? AND account_id = ? AND NOT undone ORDER BY position",
        [courseId, accountId],
      );
      const parsed = commands.map(({ command }) => Command.parse(fromJson(command)));
      const { applied } = replay(stored.plan, parsed, { now: now() });
      return { name, station, drafted: commands.length, says: applied.slice(0, 5).map(({ says }) => says) };
    }),
  );
}

/** Marks that others gave since a line of the journal, of those whom one may know of. */
async function marksSince(
  courseId: string,
  account: Account,
  line: string,
  mayKnow: (mark: MarkLine) => boolean,
): Promise<MarkChange[] | "many"> {
  const lines = await rows<{ at: number; detail: string }>(
    "SELECT at, detail FROM journal WHERE course_id = ? AND id > ? AND kind = 'marks' AND account_id <> ? ORDER BY id",
    [courseId, line, account.id],
  );
  const changes: MarkChange[] = [];
  for (const { at, detail } of lines)
    for (const mark of fromJson<{ marks: MarkLine[] }>(detail).marks) {
      if (!mayKnow(mark)) continue;
      if (changes.length >= mostMarks) return "many";
      const { itemId, personId, groupId, to } = mark;
      const holder = personId ?? groupId ?? "";
      const value = to && { personId: holder, itemId, points: to.points, excused: to.excused, at };
      changes.push({ itemId, mark: value, ...(personId ? { personId } : { groupId: holder }) });
    }
  return changes;
}

export const beAt = (connection: string, courseId: string, account: Account, station: string): Promise<number> =>
  run(
    `INSERT INTO presence (connection, course_id, account_id, station, seen_at) VALUES (?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE station = IF(account_id = VALUES(account_id), VALUES(station), station), seen_at = VALUES(seen_at)`,
    [connection, courseId, account.id, station, Date.now()],
  );
const stay = (connection: string) =>
  run("UPDATE presence SET seen_at = ? WHERE connection = ?", [Date.now(), connection]);
const leave = (connection: string) => run("DELETE FROM presence WHERE connection = ?", [connection]);

/** A stream of events for one open workbench; it ends when the workbench goes or the person may no longer be there. */
export function liveStream(
  courseId: string,
  account: Account,
  token: string | undefined,
  station: string,
): ReadableStream {
  const connection = v7();
  const encoder = new TextEncoder();
  let timer: NodeJS.Timeout | undefined;
  let closed = false;
  const close = async () => {
    closed = true;
    clearTimeout(timer);
    await leave(connection).catch(() => {});
  };
  return new ReadableStream<Uint8Array>({
    async start(controller) {
      const tell = (event: string, data: unknown) => {
        if (!closed) controller.enqueue(encoder.encode(`event: ${event}\ndata: ${JSON.stringify(data)}\n\n`));
      };
      let [told, line, beats] = ["", "", 0];
      const step = async () => {
        // Whoever was withdrawn or signed out is out at once.
        const still = await accountOf(token);
        const membership = still && (await memberIn(courseId, account.sourcedId, now()))?.membership;
        if (!membership || membership.role === "student" || membership.role === "visitor") {
          tell("gone", {});
          controller.close();
          return close();
        }
        if (beats++ % 8 === 7) await stay(connection);
        const seen = await snapshot(courseId);
        const seesAll = membership.role === "coordinator";
        const stored = seesAll ? null : await course(courseId);
        const scope = stored && scopeOf(stored.plan, membership.personId, now());
        const key = JSON.stringify([seen.revision, seen.drafts, seen.handedIn, seen.proposed, seen.present]);
        if (key !== told) {
          told = key;
          const [last] = scope
            ? []
            : await rows<{ by: string; says: string }>(
                `SELECT COALESCE(a.display_name, '') AS \`by\`, j.says FROM journal j
                 LEFT JOIN accounts a ON a.id = j.account_id WHERE j.course_id = ? AND j.revision = ? ORDER BY j.id LIMIT 1`,
                [courseId, seen.revision],
              );
          const [mine] = await rows<{ version: number }>(
            "SELECT version FROM drafts WHERE course_id = ? AND account_id = ?",
            [courseId, account.id],
          );
          const people = await presentIn(courseId, account, scope === null);
          const state: LiveState = {
            revision: seen.revision,
            by: last?.by ?? "",
            says: last?.says ?? "",
            people,
            version: mine?.version ?? 0,
            handedIn: seen.handedIn,
            proposed: seen.proposed,
          };
          tell("state", state);
        }
        if (line !== "" && line !== seen.lastLine) {
          const mayKnow = ({ personId, groupId }: MarkLine) =>
            scope === null || (personId ? scope.personIds.has(personId) : scope.own.has(groupId ?? ""));
          const marks = await marksSince(courseId, account, line, mayKnow);
          if (marks === "many" || marks.length > 0) tell("marks", marks);
        }
        line = seen.lastLine || "0";
      };
      const loop = async () => {
        await step().catch((error) => log.error({ error: String(error) }, "live"));
        if (!closed) timer = setTimeout(loop, beat);
      };
      tell("connection", { connection });
      await beAt(connection, courseId, account, station);
      await loop();
      // The first press that asks for the plan does not wait until it is read.
      void course(courseId).catch(() => {});
    },
    cancel: close,
  });
}
