/**
 * Asking the institution's registrar, by OneRoster REST (an open standard). Every way in which the answer can be
 * wrong is one kind of trouble with a sentence for the coordinator; nothing is used unless all of it came.
 */

import { z } from "zod";
import type { TextTable } from "../../core/formats/text.ts";
import type { PersonCard } from "../../core/intake/commands.ts";
import { config } from "../config.ts";

export class FeedTrouble extends Error {}

const base = "/ims/oneroster/rostering/v1p2";
const pageSize = 500;
/** Milliseconds that an answer may take. */
const patience = (): number => config().AMBER_REGISTRAR_PATIENCE;

const Text = z.string().max(1000);
const User = z.object({
  sourcedId: Text.min(1),
  status: Text.optional(),
  username: Text.nullish(),
  givenName: Text.nullish(),
  familyName: Text.nullish(),
  email: Text.nullish(),
  metadata: z.record(z.string(), z.unknown()).nullish(),
});
const Class = z.object({
  sourcedId: Text.min(1),
  status: Text.optional(),
  title: Text.nullish(),
  classCode: Text.nullish(),
  periods: z.array(Text).nullish(),
});
type User = z.infer<typeof User>;

export interface FeedClass {
  id: string;
  code: string;
  title: string;
  meets: string;
}

export const hasRegistrar = (): boolean => Boolean(config().AMBER_REGISTRAR_URL);

async function ask(path: string): Promise<{ body: unknown; total: number | null }> {
  if (!hasRegistrar())
    throw new FeedTrouble("No registrar's service is set up. Ask whoever runs Amber Weave to set AMBER_REGISTRAR_URL.");
  let answer: Response;
  try {
    answer = await fetch(`${config().AMBER_REGISTRAR_URL}${base}${path}`, {
      headers: { authorization: `Bearer ${config().AMBER_REGISTRAR_TOKEN}`, accept: "application/json" },
      signal: AbortSignal.timeout(patience()),
      redirect: "error",
    });
  } catch (error) {
    const isSlow = (error as Error).name === "TimeoutError";
    throw new FeedTrouble(
      isSlow
        ? `The registrar's service did not answer within ${patience() / 1000} seconds. Nothing was taken in; pull again later.`
        : "The registrar's service cannot be reached. Nothing was taken in; pull again later, or drop a file.",
    );
  }
  if (!answer.ok)
    throw new FeedTrouble(
      `The registrar's service refused (${answer.status}). Nothing was taken in; pull again later, or drop a file.`,
    );
  const total = answer.headers.get("x-total-count");
  try {
    return { body: await answer.json(), total: total === null ? null : Number(total) };
  } catch {
    throw new FeedTrouble(
      "The registrar's service sent something that is not a roster. Nothing was taken in; tell the registrar's office.",
    );
  }
}

/** Every page of a list, or trouble where a part is missing. */
async function askAll<Item>(path: string, name: string, schema: z.ZodType<Item>, most = 200_000): Promise<Item[]> {
  const found: Item[] = [];
  for (;;) {
    const separator = path.includes("?") ? "&" : "?";
    const { body, total } = await ask(`${path}${separator}limit=${pageSize}&offset=${found.length}`);
    const parsed = z.object({ [name]: z.array(schema) }).safeParse(body);
    if (!parsed.success)
      throw new FeedTrouble(
        "The registrar's service sent something that is not a roster. Nothing was taken in; tell the registrar's office.",
      );
    const page = (parsed.data as Record<string, Item[]>)[name] ?? [];
    found.push(...page);
    if (total !== null ? found.length >= total : page.length < pageSize) return found;
    if (page.length === 0 || (total !== null && page.length < Math.min(pageSize, total - (found.length - page.length))))
      throw new FeedTrouble(
        `The registrar's service sent ${found.length} of ${total ?? "more"} entries and stopped. Nothing was taken in; pull again later.`,
      );
    if (found.length > most)
      throw new FeedTrouble("The registrar's service sent more than 200,000 entries. Nothing was taken in.");
  }
}

const stands = ({ status }: { status?: string | undefined }) => status !== "tobedeleted";

/** The classes that the registrar knows. */
export async function registrarClasses(): Promise<FeedClass[]> {
  const classes = await askAll("/classes", "classes", Class);
  return classes.filter(stands).map(({ sourcedId, classCode, title, periods }) => ({
    id: sourcedId,
    code: classCode || sourcedId,
    title: title || classCode || sourcedId,
    meets: periods?.[0] ?? "",
  }));
}

/** The students of some classes as one table; a column for each further thing that the registrar says of them. */
export async function registrarRoster(classIds: string[], name: string): Promise<TextTable> {
  const wanted = new Set(classIds);
  const classes = (await registrarClasses()).filter(({ id }) => wanted.has(id));
  if (classes.length < wanted.size)
    throw new FeedTrouble(
      "A class that this course draws on is no longer at the registrar. Nothing was taken in; choose the classes again.",
    );
  const lines: { user: User; from: FeedClass }[] = [];
  for (const from of classes) {
    const students = await askAll(`/classes/${encodeURIComponent(from.id)}/students`, "users", User);
    lines.push(...students.filter(stands).map((user) => ({ user, from })));
  }
  const extras = [...new Set(lines.flatMap(({ user }) => Object.keys(user.metadata ?? {})))].sort();
  return {
    name,
    header: [...rosterHeader, ...extras],
    rows: lines.map(({ user, from }) =>
      [
        user.sourcedId,
        user.username ?? "",
        user.email ?? "",
        user.givenName ?? "",
        user.familyName ?? "",
        from.code,
        from.title,
        from.meets,
        ...extras.map((extra) => String(user.metadata?.[extra] ?? "")),
      ].map((cell) => cell.trim()),
    ),
    lines: lines.map((_, at) => at + 1),
  };
}
export const rosterHeader = [
  "sourcedId",
  "username",
  "email",
  "given name",
  "family name",
  "section code",
  "section title",
  "meets",
];

/** People of the institution whose name, login or id holds a text; at most thirty. */
export async function searchDirectory(text: string): Promise<PersonCard[]> {
  const value = text.replaceAll("'", "");
  const filter = ["familyName", "givenName", "username", "sourcedId"]
    .map((field) => `${field}~'${value}'`)
    .join(" OR ");
  const { body } = await ask(`/users?limit=30&filter=${encodeURIComponent(filter)}`);
  const parsed = z.object({ users: z.array(User) }).safeParse(body);
  if (!parsed.success)
    throw new FeedTrouble("The directory sent something that cannot be read. Type the person by hand.");
  return parsed.data.users.filter(stands).map(({ sourcedId, username, email, givenName, familyName }) => ({
    sourcedId,
    username: username || null,
    email: email || null,
    givenName: givenName ?? "",
    familyName: familyName ?? "",
  }));
}
