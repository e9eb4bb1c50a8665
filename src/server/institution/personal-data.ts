/**
 * What the application holds of somebody, for them: as data and as a page to read, with their files, in one archive. Of the
 * courses it holds what students may know of themselves: no private layer, no note of staff, no item they never found.
 */
import { ReadableStream as WebStream } from "node:stream/web";
import { strToU8, Zip, ZipPassThrough } from "fflate";
import type { Paper } from "../../core/attempts/drawing.ts";
import { answerWords, fileIn } from "../../core/attempts/marking.ts";
import { sayInstant } from "../../core/clock/local-time.ts";
import { studentOutline, studentPage } from "../../core/reach/student-page.ts";
import { wordsIn } from "../../core/text/rich-text.ts";
import { cut } from "../../core/text/shorten.ts";
import { answersOf } from "../attempts/rows.ts";
import { now } from "../clock.ts";
import { course } from "../store/courses.ts";
import { fromJson, rows } from "../store/database.ts";
import { fileOf } from "../store/files.ts";
import { studentProgress } from "../store/progress.ts";

/** A row of a table, as data has it and as a page says it. */
type Fact = Record<string, string | number | boolean | null>;
interface HeldFile {
  id: string;
  courseId: string;
  /** Where it lies in the archive. */
  path: string;
}
interface CourseData {
  code: string;
  title: string;
  term: string;
  timeZone: string;
  /** By what they are: "hand-ins", each a list. */
  facts: Record<string, Fact[]>;
}
export interface PersonalData {
  account: Record<string, Fact[]>;
  courses: CourseData[];
  files: HeldFile[];
}

/** The account and all that hangs on it, and every course that knows the registrar's id. */
export async function personalData(accountId: string): Promise<PersonalData | null> {
  const [account] = await rows<Fact & { sourcedId: string }>(
    `SELECT username, sourced_id AS sourcedId, display_name AS name, email, administers, disabled_at AS disabledAt
     FROM accounts WHERE id = ?`,
    [accountId],
  );
  if (!account) return null;
  const [settings, sessions, events, found] = await Promise.all([
    rows<Fact>("SELECT mails, receipts, pronouns, locale, hours FROM account_settings WHERE account_id = ?", [
      accountId,
    ]),
    rows<Fact>("SELECT begun_at AS begunAt, used_at AS usedAt, agent FROM sessions WHERE account_id = ?", [accountId]),
    rows<Fact>(
      "SELECT kind, what, address, at, last_at AS lastAt, times FROM security_events WHERE account_id = ? ORDER BY at",
      [accountId],
    ),
    rows<{ courseId: string; personId: string }>(
      "SELECT course_id AS courseId, id AS personId FROM people WHERE sourced_id = ?",
      [account.sourcedId],
    ),
  ]);
  const files: HeldFile[] = [];
  const courses: CourseData[] = [];
  for (const { courseId, personId } of found) courses.push(await courseData(courseId, personId, files));
  const own = { account: [account], settings, sessions, "sign-ins and refusals": events };
  return { account: own, courses: courses.sort((a, b) => (a.code < b.code ? -1 : 1)), files };
}

async function courseData(courseId: string, personId: string, files: HeldFile[]): Promise<CourseData> {
  const stored = await course(courseId);
  if (!stored) throw new Error(`There is no course ${courseId}.`);
  const { plan } = stored;
  const { code, title, term, timeZone } = plan.course;
  const ask = (sql: string) => rows<Fact>(sql, [courseId, personId]);
  const [person, enrolments, groups, handIns, posts, openings, marks, comments, notices, attempts] = await Promise.all([
    ask(`SELECT given_name AS givenName, family_name AS familyName, username, email, attributes FROM people
         WHERE course_id = ? AND id = ?`),
    ask(`SELECT e.role, s.code AS section, e.since, e.until FROM enrolments e LEFT JOIN sections s ON s.id = e.section_id
         WHERE e.course_id = ? AND e.person_id = ? ORDER BY e.since`),
    ask(`SELECT g.label AS \`group\`, p.since, p.until FROM placements p JOIN \`groups\` g ON g.id = p.group_id
         JOIN layers l ON l.id = g.layer_id AND NOT l.private WHERE p.course_id = ? AND p.person_id = ? ORDER BY p.since`),
    ask(`SELECT h.item_id AS itemId, h.at, h.body AS text, h.link, h.file_id AS fileId, f.name AS file FROM hand_ins h
         LEFT JOIN files f ON f.id = h.file_id WHERE h.course_id = ? AND h.person_id = ? ORDER BY h.at`),
    ask(`SELECT p.place_id AS itemId, p.at, p.body AS text, p.edited_at AS editedAt, p.deleted_at AS deletedAt,
           p.file_id AS fileId, f.name AS file FROM posts p LEFT JOIN files f ON f.id = p.file_id
         WHERE p.course_id = ? AND p.person_id = ? ORDER BY p.at`),
    ask(
      "SELECT item_id AS itemId, at, read_at AS readAt FROM openings WHERE course_id = ? AND person_id = ? ORDER BY at",
    ),
    ask("SELECT item_id AS itemId, points, excused, at FROM marks WHERE course_id = ? AND person_id = ? ORDER BY at"),
    ask("SELECT item_id AS itemId, comment, at FROM remarks WHERE course_id = ? AND holder_id = ? AND comment <> ''"),
    ask(
      `SELECT subject, body AS text, at, read_at AS readAt FROM deliveries WHERE course_id = ? AND person_id = ? ORDER BY at`,
    ),
    attemptsIn(courseId, personId),
  ]);
  const t = now();
  const page = studentPage(plan, await studentProgress(courseId, personId, plan), personId, t);
  const finds = new Set([
    ...(page ? studentOutline(page).map(({ id }) => id) : []),
    ...[...handIns, ...openings].map(({ itemId }) => String(itemId)),
  ]);
  const titled = (list: Fact[]) => list.map((fact) => withTitle(fact, plan.items[String(fact.itemId)]?.title));
  const withFiles = (list: Fact[]) =>
    list.map(({ fileId, ...fact }) => {
      if (typeof fileId !== "string") return fact;
      const path = `files/${fileId} ${String(fact.file).replaceAll(/[/\\]/g, "_")}`;
      files.push({ id: fileId, courseId, path });
      return { ...fact, file: path };
    });
  const found = (list: Fact[]) => titled(list.filter(({ itemId }) => finds.has(String(itemId))));
  const facts = {
    ...{ person, enrolments, groups, "hand-ins": withFiles(titled(handIns)), posts: withFiles(titled(posts)) },
    attempts: withFiles(titled(attempts)),
    ...{ opened: titled(openings), marks: found(marks), comments: found(comments), notices },
  };
  return { code, title, term, timeZone, facts };
}
/** What somebody answered in attempts, a question a line; never what is right. */
async function attemptsIn(courseId: string, personId: string): Promise<Fact[]> {
  const held = await rows<{ id: string; itemId: string; number: number; begunAt: number; paper: Paper | string }>(
    `SELECT id, item_id AS itemId, number, begun_at AS begunAt, paper FROM attempts
     WHERE course_id = ? AND holder_id = ? ORDER BY begun_at`,
    [courseId, personId],
  );
  const saved = await answersOf(held.map(({ id }) => id));
  return held.flatMap(({ id, itemId, number, begunAt, paper }) =>
    saved
      .filter(({ attemptId }) => attemptId === id)
      .map(({ questionId, answer, savedAt }): Fact => {
        const question = fromJson<Paper>(paper).questions.find((one) => one.id === questionId);
        const file = fileIn(answer);
        return {
          ...{ itemId, attempt: number, begunAt, at: savedAt, question: question ? wordsIn(question.text) : "" },
          ...{ text: question && !file ? answerWords(question, answer) : "", fileId: file?.id ?? null },
          file: file?.name ?? null,
        };
      }),
  );
}

function withTitle({ itemId, ...fact }: Fact, title: string | undefined): Fact {
  return { in: title ?? "a group's page, or an item that was removed", ...fact };
}

const escaped = (text: string) => text.replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`);
/** Columns that hold moments. */
const isMoment = (name: string) => /^(at|since|until)$|At$/.test(name);

function sayFact(fact: Fact, zone: string): string {
  const said = Object.entries(fact).flatMap(([name, value]) => {
    if (value === null || value === "") return [];
    const text = isMoment(name) && typeof value === "number" ? sayInstant(value, zone) : String(value);
    return [`<dt>${escaped(name)}</dt><dd>${escaped(cut(text, 20_000))}</dd>`];
  });
  return `<dl>${said.join("")}</dl>`;
}
const sayFacts = (facts: Record<string, Fact[]>, zone: string): string =>
  Object.entries(facts)
    .filter(([, list]) => list.length > 0)
    .map(([name, list]) => `<h3>${escaped(name)}</h3>${list.map((fact) => sayFact(fact, zone)).join("")}`)
    .join("");

/** The page to read. */
function pageOf({ account, courses }: PersonalData): string {
  const zone = courses[0]?.timeZone ?? "UTC";
  const parts = courses.map(
    ({ code, title, term, timeZone, facts }) =>
      `<section><h2>${escaped(`${code} ${title}, ${term}`)}</h2>${sayFacts(facts, timeZone)}</section>`,
  );
  return `<!doctype html><html lang="en-GB"><head><meta charset="utf-8"><title>Your data</title>
<style>body{max-width:48rem;margin:2rem auto;padding:0 1rem;font:1rem/1.5 sans-serif}dl{display:grid;grid-template-columns:8rem 1fr;gap:.1rem 1rem;margin:.6rem 0;padding-top:.6rem;border-top:1px solid #ccc}dd{margin:0;white-space:pre-wrap;overflow-wrap:anywhere}</style></head>
<body><h1>Your data</h1><p>The same is in data.json, for programs. Files that you handed in or posted lie beside it.</p>
<section><h2>Your account</h2>${sayFacts(account, zone)}</section>${parts.join("")}</body></html>`;
}

/** The archive, as a stream: a file at a time, of that a part at a time, and none sooner than it is fetched. */
export const archiveOf = (data: PersonalData): ReadableStream<Uint8Array> =>
  WebStream.from(archived(data)) as unknown as ReadableStream<Uint8Array>;

async function* archived(data: PersonalData): AsyncGenerator<Uint8Array> {
  const { files, ...said } = data;
  const pieces: Uint8Array[] = [];
  const zip = new Zip((error, piece) => {
    if (error) throw error;
    pieces.push(piece);
  });
  const add = (name: string): ZipPassThrough => {
    const entry = new ZipPassThrough(name);
    zip.add(entry);
    return entry;
  };
  const taken = () => pieces.splice(0);
  add("data.json").push(strToU8(JSON.stringify(said, null, 1)), true);
  add("index.html").push(strToU8(pageOf(data)), true);
  yield* taken();
  for (const { courseId, id, path } of files) {
    const found = await fileOf(courseId, id);
    if (!found) continue;
    const entry = add(path);
    for await (const part of found.body as unknown as AsyncIterable<Uint8Array>) {
      entry.push(part);
      yield* taken();
    }
    entry.push(new Uint8Array(), true);
    yield* taken();
  }
  zip.end();
  yield* taken();
}
