/** Sections moved between courses, courses joined, split and archived: looked at first, made whole, and taken back whole. */
import type { PoolConnection } from "mysql2/promise";
import type { FeedSettings } from "../../api/intake.ts";
import { difference } from "../../core/plan/difference.ts";
import type { Progress } from "../../core/plan/progress.ts";
import { emptyPlan, type Plan } from "../../core/plan/types.ts";
import { audit } from "../../core/reach/audit/audit.ts";
import { findingKinds, kindWords } from "../../core/reach/audit/finding.ts";
import { fold } from "../../core/text/caseless.ts";
import { now } from "../clock.ts";
import { copyFiles } from "../course/rolling.ts";
import { feedOf, setFeed } from "../intake/feeds.ts";
import { FeedTrouble, hasRegistrar, registrarClasses } from "../intake/registrar.ts";
import { course, lockCourse, moveCourse } from "../store/courses.ts";
import { rows, run, transaction } from "../store/database.ts";
import { writeJournal } from "../store/journal.ts";
import { insertCourse, type StoredPlan, writeDifference } from "../store/plan-rows.ts";
import { courseProgress } from "../store/progress.ts";
import { copyWork } from "../store/work-copy.ts";
import { type Courses, coordinates, type MoveRequest, type Prepared, prepareMove } from "./moves.ts";

export interface Mover {
  accountId: string;
  sourcedId: string;
}
/** What was beside the plans before, by course: null where the course drew on no classes. */
export interface Kept {
  feeds: Record<string, FeedSettings | null>;
}

/** What is planned for later in a course that everybody leaves would be published for nobody. */
async function whyNotLeft(courseId: string, code: string, connection?: PoolConnection): Promise<string | null> {
  const [waiting] = await rows(
    "SELECT 1 FROM planned_publications WHERE course_id = ? AND state = 'waiting' LIMIT 1",
    [courseId],
    connection,
  );
  return waiting
    ? `Something is planned to be published in ${code} later. Publish it now, or take it back first.`
    : null;
}

/** Both courses, where whoever asks coordinates them; a sentence otherwise. */
async function coursesOfMove(
  { id, courseId, otherId, kind }: MoveRequest,
  { sourcedId }: Mover,
  at: number,
  read: (id: string) => Promise<StoredPlan | null>,
): Promise<Courses | { wrong: string }> {
  const found = new Map<string, StoredPlan | null>();
  // Always in the same order: two who move things between the same two courses wait for each other only once.
  const ids = [...new Set(otherId ? [courseId, otherId] : [courseId])].sort();
  for (const one of ids) found.set(one, await read(one));
  const here = found.get(courseId);
  const other = otherId ? (found.get(otherId) ?? null) : null;
  const isTheirs = (stored: StoredPlan | null | undefined) => stored && coordinates(stored.plan, sourcedId, at);
  if (!here || !isTheirs(here)) return { wrong: "You do not coordinate this course any more." };
  if (otherId && !isTheirs(other)) return { wrong: "You do not coordinate the other course. Choose one of your own." };
  if (kind === "own" && (await read(id))) return { wrong: "That course is there already. Look at the list again." };
  const left = kind === "join" ? other : kind === "archive" ? here : null;
  const why = left && (await whyNotLeft(left.plan.course.id, left.plan.course.code));
  return why ? { wrong: why } : { here, other };
}

export interface Look {
  notes: string[];
  /** Of each course, the findings that become more or fewer. */
  findings: { code: string; says: string[] }[];
}

/** What a move would do, without doing it. */
export async function lookAtMove(request: MoveRequest, mover: Mover): Promise<Look | { wrong: string }> {
  const at = now();
  const courses = await coursesOfMove(request, mover, at, course);
  if ("wrong" in courses) return courses;
  const prepared = prepareMove(request, courses, at);
  if ("wrong" in prepared) return prepared;
  const [here, other] = await Promise.all([
    courseProgress(request.courseId),
    request.otherId ? courseProgress(request.otherId) : null,
  ]);
  const both =
    other && prepared.work ? joinedProgress(here.progress, other.progress, prepared.work.idOf) : here.progress;
  const findings = [findingsOf(prepared.here, here.progress, request.kind === "join" ? both : here.progress, at)];
  if (prepared.other && other) findings.push(findingsOf(prepared.other, other.progress, other.progress, at));
  return { notes: [...prepared.notes, ...(await feedNotes(request, courses.here.plan))], findings };
}

const joinedProgress = (one: Progress, other: Progress, idOf: (id: string) => string): Progress => {
  const moved = <Row extends object>(list: Row[]): Row[] =>
    list.map((row) => {
      const ids = ["personId", "itemId", "groupId"].filter((name) => name in row);
      return {
        ...row,
        ...Object.fromEntries(ids.map((name) => [name, idOf((row as Record<string, string>)[name] ?? "")])),
      };
    });
  return {
    marks: [...one.marks, ...moved(other.marks)],
    handIns: [...one.handIns, ...moved(other.handIns)],
    openings: [...one.openings, ...moved(other.openings)],
    groupMarks: [...one.groupMarks, ...moved(other.groupMarks)],
  };
};

function findingsOf({ before, after }: { before: Plan; after: Plan }, was: Progress, is: Progress, at: number) {
  const [old, fresh] = [audit(before, was, at).findings, audit(after, is, at).findings];
  const says = findingKinds.flatMap((kind) => {
    const count = (list: typeof old) => list.filter((one) => one.kind === kind && !one.accepted).length;
    const [had, has] = [count(old), count(fresh)];
    return had === has ? [] : [`${kindWords[kind].name}: ${had} before, ${has} after`];
  });
  return { code: after.course.code, says };
}

/** The classes of the registrar's that a course draws on for some sections; null where nobody can say. */
async function classesOf(feed: FeedSettings, codes: string[]): Promise<string[] | null> {
  if (!hasRegistrar()) return null;
  try {
    const wanted = new Set(codes.map(fold));
    const listed = await registrarClasses();
    return listed.filter(({ id, code }) => feed.classes.includes(id) && wanted.has(fold(code))).map(({ id }) => id);
  } catch (error) {
    if (error instanceof FeedTrouble) return null;
    throw error;
  }
}

interface FeedStep {
  courseId: string;
  feed: FeedSettings | null;
}
const still = (feed: FeedSettings): FeedSettings => ({ ...feed, nightlyAt: null, appliesItself: false });

interface FeedChange {
  steps: FeedStep[];
  kept: Kept;
  /** Whether nobody can say which classes belong to which sections: nothing is drawn by itself then. */
  unsure: boolean;
}

/** What becomes of the registrar's classes that the courses draw on. */
async function feedChange(request: MoveRequest, { sections }: Plan): Promise<FeedChange> {
  const { courseId, otherId, kind } = request;
  const [here, other] = await Promise.all([feedOf(courseId), otherId ? feedOf(otherId) : null]);
  const kept: Kept = { feeds: { [courseId]: here, ...(otherId && { [otherId]: other }) } };
  const change =
    kind === "archive"
      ? { steps: here ? [{ courseId, feed: null }] : [], unsure: false }
      : kind === "join"
        ? joinedFeeds(request, here, other)
        : await feedsWithout(
            request,
            request.sectionIds.flatMap((id) => sections[id]?.code ?? []),
            here,
            other,
          );
  return { ...change, kept };
}

function joinedFeeds({ courseId, otherId }: MoveRequest, here: FeedSettings | null, other: FeedSettings | null) {
  if (!other || !otherId) return { steps: here ? [{ courseId, feed: still(here) }] : [], unsure: Boolean(here) };
  const feed = here ? { ...here, classes: [...new Set([...here.classes, ...other.classes])] } : still(other);
  const steps: FeedStep[] = [
    { courseId, feed },
    { courseId: otherId, feed: null },
  ];
  return { steps, unsure: !here };
}

async function feedsWithout(
  { id, courseId, otherId, kind }: MoveRequest,
  codes: string[],
  here: FeedSettings | null,
  other: FeedSettings | null,
) {
  if (!here) return { steps: [], unsure: false };
  const going = await classesOf(here, codes);
  if (!going || going.length === 0) return { steps: [{ courseId, feed: still(here) }], unsure: true };
  const staying = here.classes.filter((one) => !going.includes(one));
  const steps: FeedStep[] = [{ courseId, feed: { ...here, classes: staying } }];
  const to = kind === "own" ? id : otherId;
  if (to) steps.push({ courseId: to, feed: { ...(other ?? here), classes: [...(other?.classes ?? []), ...going] } });
  return { steps, unsure: false };
}

async function feedNotes(request: MoveRequest, plan: Plan): Promise<string[]> {
  const { steps, unsure } = await feedChange(request, plan);
  if (unsure)
    return [
      "The registrar's rosters are no longer drawn by night: choose the classes anew under Intake, then pull once.",
    ];
  const left = steps.filter(({ feed }) => feed);
  return request.kind !== "archive" && left.length > 0
    ? ["Which of the registrar's classes each course draws on is changed with it."]
    : [];
}

export async function writeFeeds(
  steps: FeedStep[],
  accountId: string,
  zone: string,
  at: number,
  connection: PoolConnection,
) {
  for (const { courseId, feed } of steps) {
    if (feed) await setFeed(courseId, accountId, feed, zone, at, connection);
    else await run("DELETE FROM feeds WHERE course_id = ?", [courseId], connection);
    // A roster that waits is of the sections as they were.
    await run(
      "UPDATE pulls SET state = 'put away', says = 'sections were moved' WHERE course_id = ? AND state = 'waiting'",
      [courseId],
      connection,
    );
  }
}

export const setArchived = (courseId: string, at: number | null, connection: PoolConnection) =>
  run("UPDATE courses SET archived_at = ? WHERE id = ?", [at, courseId], connection);

export type MoveAnswer = { moved: true; id: string } | { wrong: string };

/** Makes a move, in one transaction, or says why not. The same move sent twice is made once. */
export async function makeMove(request: MoveRequest, mover: Mover): Promise<MoveAnswer> {
  const at = now();
  const answer: MoveAnswer = { moved: true, id: request.id };
  if (await isMade(request, mover)) return answer;
  const looked = await coursesOfMove(request, mover, at, course);
  if ("wrong" in looked) return looked;
  // The registrar is asked before anything is locked.
  const feeds = await feedChange(request, looked.here.plan);
  return transaction(async (connection): Promise<MoveAnswer> => {
    const courses = await coursesOfMove(request, mover, at, (id) => lockCourse(id, connection));
    if (await isMade(request, mover, connection)) return answer;
    if ("wrong" in courses) return courses;
    const prepared = prepareMove(request, courses, at);
    if ("wrong" in prepared) return prepared;
    await writeMove(request, prepared, { courses, mover, at, feeds }, connection);
    return answer;
  });
}

/** Whether the same person made the same move before. */
async function isMade({ id, courseId }: MoveRequest, { accountId }: Mover, connection?: PoolConnection) {
  const [done] = await rows(
    "SELECT 1 FROM section_moves WHERE id = ? AND course_id = ? AND account_id = ?",
    [id, courseId, accountId],
    connection,
  );
  return Boolean(done);
}

interface Writing {
  courses: Courses;
  mover: Mover;
  at: number;
  feeds: FeedChange;
}

async function writeMove(
  request: MoveRequest,
  { says, here, other, made, work }: Prepared,
  { courses, mover: { accountId }, at, feeds }: Writing,
  connection: PoolConnection,
): Promise<void> {
  const entry = { accountId, at, kind: "sections" as const, lines: [{ says, detail: { move: request.id } }] };
  if (made) {
    await insertCourse(made.course, connection);
    await copyFiles(request.courseId, here.before, made, work?.idOf ?? String, connection);
    await writeDifference(made.course.id, difference(emptyPlan(made.course), made), connection);
    await writeJournal(made.course.id, 0, entry, connection);
  }
  if (request.kind === "join" && other && work)
    await copyFiles(other.before.course.id, other.before, here.after, work.idOf, connection);
  const revision = await moveCourse(request.courseId, courses.here, here.after, entry, connection);
  if (here.archived) await setArchived(request.courseId, at, connection);
  let otherRevision: number | null = null;
  if (other && courses.other && request.otherId) {
    otherRevision = await moveCourse(request.otherId, courses.other, other.after, entry, connection);
    if (other.archived) await setArchived(request.otherId, at, connection);
  }
  if (work) await copyWork(work, connection);
  await writeFeeds(feeds.steps, accountId, here.before.course.timeZone, at, connection);
  await run(
    `INSERT INTO section_moves (id, course_id, other_id, kind, account_id, at, says, revision, other_revision, kept)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    [
      request.id,
      request.courseId,
      made?.course.id ?? request.otherId,
      ...[request.kind, accountId, at, says.slice(0, 500), revision, otherRevision, JSON.stringify(feeds.kept)],
    ],
    connection,
  );
}
