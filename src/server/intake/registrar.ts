/**
 * Asking the institution's registrar, by OneRoster REST (an open standard). Every way in which the answer can be
 * wrong is one kind of trouble with a sentence for the coordinator; nothing is used unless all of it came.
 */

import { z } from "zod";
import { familyNameOf, givenNameOf } from "../../core/formats/oneroster/names.ts";
import { oneRosterHeader } from "../../core/formats/oneroster/read.ts";
import type { TextTable } from "../../core/formats/text-table.ts";
import type { PersonCard } from "../../core/intake/commands.ts";
import type { TaughtClass } from "../../core/intake/shells.ts";
import { config } from "../config.ts";
import { FeedTrouble, forgetToken, registrarToken } from "./registrar-token.ts";

export { FeedTrouble };

const bases = { "1.1": "/ims/oneroster/v1p1", "1.2": "/ims/oneroster/rostering/v1p2" };
const pageSize = 500;
/** Milliseconds that an answer may take. */
const patience = (): number => config().AMBER_REGISTRAR_PATIENCE;

const Text = z.string().max(1000);
const User = z.object({
  sourcedId: Text.min(1),
  status: Text.optional(),
  enabledUser: z.union([z.boolean(), Text]).nullish(),
  username: Text.nullish(),
  givenName: Text.nullish(),
  familyName: Text.nullish(),
  preferredFirstName: Text.nullish(),
  preferredLastName: Text.nullish(),
  email: Text.nullish(),
  metadata: z.record(z.string(), z.unknown()).nullish(),
});
const Class = z.object({
  sourcedId: Text.min(1),
  status: Text.optional(),
  title: Text.nullish(),
  classCode: Text.nullish(),
  periods: z.array(Text).nullish(),
  course: z.object({ sourcedId: Text.min(1) }).nullish(),
});
const Course = z.object({ sourcedId: Text.min(1), title: Text.nullish(), courseCode: Text.nullish() });
type Class = z.infer<typeof Class>;
type User = z.infer<typeof User>;

export interface FeedClass {
  id: string;
  code: string;
  title: string;
  meets: string;
}

export const hasRegistrar = (): boolean => Boolean(config().AMBER_REGISTRAR_URL);

const unreachable = (error: unknown): FeedTrouble =>
  new FeedTrouble(
    (error as Error).name === "TimeoutError"
      ? `The registrar's service did not answer within ${patience() / 1000} seconds. Nothing was taken in; pull again later.`
      : "The registrar's service cannot be reached. Nothing was taken in; pull again later, or drop a file.",
  );
const noRoster = () =>
  new FeedTrouble(
    "The registrar's service sent something that is not a roster. Nothing was taken in; tell the registrar's office.",
  );

/** What one pull may cost: a service that never stops giving is not asked for ever. */
class Cost {
  private readonly until = Date.now() + 10 * 60_000;
  private requests = 0;
  private bytes = 0;
  private check(): void {
    if (this.requests > 2000 || this.bytes > 200_000_000 || Date.now() > this.until)
      throw new FeedTrouble(
        "The registrar's service sends more than a course can have, or far too slowly. Nothing was taken in; tell the registrar's office.",
      );
  }
  ask(): void {
    this.requests++;
    this.check();
  }
  /** An answer's text, counted while it arrives. */
  async read(answer: Response): Promise<string> {
    const decoder = new TextDecoder();
    let text = "";
    for await (const piece of answer.body ?? []) {
      this.bytes += (piece as Uint8Array).length;
      this.check();
      text += decoder.decode(piece as Uint8Array, { stream: true });
    }
    return text + decoder.decode();
  }
}

interface Answered {
  body: unknown;
  /** How many entries there are in all, where the service says so. */
  total: number | null;
  /** Whether it says that there is a next page. */
  hasNext: boolean;
}

async function send(path: string, token: string): Promise<Response> {
  const { AMBER_REGISTRAR_URL: url, AMBER_REGISTRAR_VERSION: version } = config();
  try {
    return await fetch(`${url?.replace(/\/+$/, "")}${bases[version]}${path}`, {
      headers: { authorization: `Bearer ${token}`, accept: "application/json" },
      signal: AbortSignal.timeout(patience()),
      redirect: "error",
    });
  } catch (error) {
    throw unreachable(error);
  }
}

/** `mayLack`: nothing where the service has no such resource. */
async function ask(path: string, cost: Cost, { mayLack = false } = {}): Promise<Answered | null> {
  if (!hasRegistrar())
    throw new FeedTrouble("No registrar's service is set up. Ask whoever runs Amber Weave to set AMBER_REGISTRAR_URL.");
  cost.ask();
  let answer = await send(path, await registrarToken());
  // A token that was withdrawn before its time is fetched once more.
  if (answer.status === 401 && forgetToken()) answer = await send(path, await registrarToken());
  if (answer.status === 404 && mayLack) return null;
  if (!answer.ok)
    throw new FeedTrouble(
      `The registrar's service refused (${answer.status}). Nothing was taken in; pull again later, or drop a file.`,
    );
  const total = answer.headers.get("x-total-count");
  const hasNext = /rel="?next"?/i.test(answer.headers.get("link") ?? "");
  // A count that is no number says nothing.
  const isCount = total !== null && /^\d{1,9}$/.test(total.trim());
  return { body: await readJson(answer, cost), total: isCount ? Number(total) : null, hasNext };
}

async function readJson(answer: Response, cost: Cost): Promise<unknown> {
  let text: string;
  try {
    text = await cost.read(answer);
  } catch (error) {
    throw error instanceof FeedTrouble ? error : unreachable(error);
  }
  try {
    return JSON.parse(text);
  } catch {
    throw noRoster();
  }
}

interface List<Item> {
  /** What the list is called in the answer. */
  name: string;
  schema: z.ZodType<Item>;
  mayLack?: boolean;
}
const mostEntries = 200_000;

/**
 * Every page of a list, or trouble where a part is missing. A service may give fewer a page than it is asked for: it is
 * asked on from where it stopped, until it has given as many as it says, or says that there is no next page.
 */
async function askAll<Item extends { sourcedId: string }>(path: string, list: List<Item>, cost: Cost): Promise<Item[]> {
  const found = new Map<string, Item>();
  for (let asked = 0; ; ) {
    const answered = await ask(`${path}?limit=${pageSize}&offset=${asked}`, cost, list);
    if (answered === null) return [];
    const parsed = z.object({ [list.name]: z.array(list.schema) }).safeParse(answered.body);
    if (!parsed.success) throw noRoster();
    const page = (parsed.data as Record<string, Item[]>)[list.name] ?? [];
    asked += page.length;
    for (const one of page) found.set(one.sourcedId, one);
    if (found.size < asked)
      throw new FeedTrouble("The registrar's list changed while it was read. Nothing was taken in; pull again.");
    const { total, hasNext } = answered;
    const isDone = total !== null ? asked >= total : !hasNext && page.length < pageSize;
    if (isDone) return [...found.values()];
    if (page.length === 0)
      throw new FeedTrouble(
        `The registrar's service sent ${asked} of ${total ?? "more"} entries and stopped. Nothing was taken in; pull again later.`,
      );
    if (asked > mostEntries)
      throw new FeedTrouble("The registrar's service sent more than 200,000 entries. Nothing was taken in.");
  }
}

const stands = ({ status }: { status?: string | undefined }) => status !== "tobedeleted";
/** Whether the registrar has not switched somebody off; as in a file, whoever is, is in no class. */
const isEnabled = ({ enabledUser }: User) => String(enabledUser ?? "true").toLowerCase() !== "false";

const feedClass = ({ sourcedId, classCode, title, periods }: Class): FeedClass => ({
  id: sourcedId,
  code: classCode || sourcedId,
  title: title || classCode || sourcedId,
  meets: periods?.[0] ?? "",
});

/** The classes that the registrar knows. */
export async function registrarClasses(cost = new Cost()): Promise<FeedClass[]> {
  const classes = await askAll("/classes", { name: "classes", schema: Class }, cost);
  return classes.filter(stands).map(feedClass);
}

/** The classes that somebody teaches, by the registrar's id, each with its course; none where it knows no such teacher. */
export async function classesTaughtBy(sourcedId: string): Promise<TaughtClass[]> {
  const cost = new Cost();
  const list = { name: "classes", schema: Class, mayLack: true };
  const classes = (await askAll(`/teachers/${encodeURIComponent(sourcedId)}/classes`, list, cost)).filter(stands);
  const courses = new Map<string, TaughtClass["course"]>();
  for (const id of new Set(classes.flatMap(({ course }) => course?.sourcedId ?? []))) {
    const answered = await ask(`/courses/${encodeURIComponent(id)}`, cost, { mayLack: true });
    const read = z.object({ course: Course }).safeParse(answered?.body);
    const found = read.data?.course;
    courses.set(id, { id, code: found?.courseCode || id, title: found?.title || found?.courseCode || id });
  }
  return classes.map((one) => ({ ...feedClass(one), course: courses.get(one.course?.sourcedId ?? "") ?? null }));
}

/** The students and teachers of some classes as one table; a column for each further thing that the registrar says of them. */
export async function registrarRoster(classIds: string[], name: string): Promise<TextTable> {
  const wanted = new Set(classIds);
  const cost = new Cost();
  const classes = (await registrarClasses(cost)).filter(({ id }) => wanted.has(id));
  if (classes.length < wanted.size)
    throw new FeedTrouble(
      "A class that this course draws on is no longer at the registrar. Nothing was taken in; choose the classes again.",
    );
  const lines: { user: User; from: FeedClass; role: string }[] = [];
  for (const from of classes)
    for (const role of ["student", "teacher"]) {
      // A service may know no teachers; students it must.
      const list = { name: "users", schema: User, mayLack: role === "teacher" };
      const users = await askAll(`/classes/${encodeURIComponent(from.id)}/${role}s`, list, cost);
      lines.push(...users.filter((user) => stands(user) && isEnabled(user)).map((user) => ({ user, from, role })));
    }
  const extras = [...new Set(lines.flatMap(({ user }) => Object.keys(user.metadata ?? {})))].sort();
  return {
    name,
    header: [...rosterHeader, ...extras],
    rows: lines.map(({ user, from, role }) =>
      [
        user.sourcedId,
        user.username ?? "",
        user.email ?? "",
        givenNameOf(user),
        familyNameOf(user),
        from.code,
        from.title,
        role,
        from.meets,
        ...extras.map((extra) => String(user.metadata?.[extra] ?? "")),
      ].map((cell) => cell.trim()),
    ),
    lines: lines.map((_, at) => at + 1),
  };
}
/** As a OneRoster file's, and when a class meets. */
const rosterHeader = [...oneRosterHeader, "meets"];

/** People of the institution whose name, login or id holds a text; at most thirty. */
export async function searchDirectory(text: string): Promise<PersonCard[]> {
  const value = text.replaceAll("'", "");
  const filter = ["familyName", "givenName", "username", "sourcedId"]
    .map((field) => `${field}~'${value}'`)
    .join(" OR ");
  const answered = await ask(`/users?limit=30&filter=${encodeURIComponent(filter)}`, new Cost());
  const parsed = z.object({ users: z.array(User) }).safeParse(answered?.body);
  if (!parsed.success)
    throw new FeedTrouble("The directory sent something that cannot be read. Type the person by hand.");
  return parsed.data.users.filter(stands).map((user) => ({
    sourcedId: user.sourcedId,
    username: user.username || null,
    email: user.email || null,
    givenName: givenNameOf(user),
    familyName: familyNameOf(user),
  }));
}

/** Where the registrar writes to somebody; null where it knows nobody by that id, or no address of theirs. */
export async function emailAtRegistrar(sourcedId: string): Promise<string | null> {
  const filter = `sourcedId='${sourcedId.replaceAll("'", "")}'`;
  const answered = await ask(`/users?limit=2&filter=${encodeURIComponent(filter)}`, new Cost());
  const read = z.object({ users: z.array(User) }).safeParse(answered?.body);
  const found = read.data?.users.find((user) => stands(user) && user.sourcedId === sourcedId);
  return found?.email || null;
}
