/** A message: to whom it goes, each person once, and what each of them reads. Source: semantics.md sections 8 and 9. */
import { z } from "zod";
import { holdsAt, isEnrolledAt, isStudentAt, lookup, studentsAt } from "../plan/lookup.ts";
import { Id, isStaffRole, type Plan, Target } from "../plan/types.ts";
import { shorten } from "../text/shorten.ts";
import { membershipsAt } from "../timing/resolving/resolve.ts";

export const Message = z.object({
  /** Made by the browser: sent twice, it goes out once. */
  id: Id,
  subject: z.string().trim().min(1, "a subject").max(200),
  body: z.string().trim().min(1, "a text").max(20_000),
  to: z.array(Target).max(20_000),
  /** Layers in which whoever is in no group gets it too. */
  unplacedIn: z.array(Id).max(50),
  /** Whether staff of the groups and sections get it as well. */
  withStaff: z.boolean(),
  /** Whose name it bears: its writer's, or the course's. */
  from: z.enum(["writer", "course"]).default("writer"),
  /** What it is about: whoever is let in there finds a link to it. */
  itemId: Id.nullable().default(null),
});
export type Message = z.infer<typeof Message>;
/** What is said of a message beside its id, its words and those it goes to. */
export const blankMessage = { unplacedIn: [], withStaff: false, from: "writer" as const, itemId: null };

/** A subject for a message that was written without one: how its text begins. */
export const subjectOf = (body: string): string => shorten(body.trim().split("\n")[0] as string, 80);

/** A message of a text alone, to some people and groups and nobody else. `id` is new. */
export const messageOf = (id: string, to: Target[], body: string): Message => ({
  id,
  ...blankMessage,
  subject: subjectOf(body),
  body: body.trim(),
  to,
});

export interface Recipient {
  personId: string;
  /** Null where they have no address of their own, or share one that gets it already: they find it in the course. */
  address: string | null;
}

/** Who gets a message at t, each person and each address once, students first. */
export function recipientsOf(
  plan: Plan,
  { to, unplacedIn, withStaff }: Pick<Message, "to" | "unplacedIn" | "withStaff">,
  t: number,
): Recipient[] {
  const named = { group: new Set<string>(), section: new Set<string>(), person: new Set<string>() };
  for (const { kind, id } of to)
    if (kind === "set") for (const groupId of plan.sets[id]?.groupIds ?? []) named.group.add(groupId);
    else named[kind].add(id);
  const groupsOf = (layerId: string) => new Set((lookup(plan).groupsOfLayer.get(layerId) ?? []).map(({ id }) => id));
  const layers = unplacedIn.filter((id) => plan.layers[id]).map(groupsOf);
  const { placementsOfPerson, enrolmentsOfPerson } = lookup(plan);
  const placedIn = (personId: string) =>
    (placementsOfPerson.get(personId) ?? []).filter((row) => holdsAt(row, t)).map(({ groupId }) => groupId);
  const students = studentsAt(plan, t).filter((personId) => {
    if (named.person.has(personId)) return true;
    const { groupIds, sectionIds } = membershipsAt(plan, personId, t);
    return (
      [...groupIds].some((id) => named.group.has(id)) ||
      [...sectionIds].some((id) => named.section.has(id)) ||
      layers.some((groups) => ![...groupIds].some((id) => groups.has(id)))
    );
  });
  const isStaffOf = (personId: string) =>
    (enrolmentsOfPerson.get(personId) ?? []).some(
      (row) => holdsAt(row, t) && isStaffRole(row.role) && row.sectionId !== null && named.section.has(row.sectionId),
    ) || placedIn(personId).some((id) => named.group.has(id));
  const staff = Object.keys(plan.people).filter(
    (personId) =>
      isEnrolledAt(plan, personId, t) &&
      !isStudentAt(plan, personId, t) &&
      (named.person.has(personId) || (withStaff && isStaffOf(personId))),
  );
  const addresses = new Set<string>();
  return [...students, ...staff].map((personId) => {
    const address = plan.people[personId]?.email?.trim() || null;
    const known = address === null || addresses.has(address.toLowerCase());
    if (address) addresses.add(address.toLowerCase());
    return { personId, address: known ? null : address };
  });
}

/** A message that was written, with how it fares. */
export interface SentMessage {
  id: string;
  at: number;
  by: string;
  subject: string;
  body: string;
  recipients: number;
  sent: number;
  waiting: number;
  refused: number;
  unread: number;
  /** What stands in the way of those that wait or were refused. */
  error: string;
}

/** What somebody reads of a message beside its words. */
export interface Letterhead {
  /** Who wrote it; the course where it bears the course's name. */
  sender: string;
  /** The course: code and title. */
  course: string;
  /** What it is about, with its address; null where it is about nothing that they see. */
  item: { title: string; address: string | null } | null;
  /** Where it stands in the course; null where the application's address is not known. */
  address: string | null;
}

/** A mail: the words, and beneath them who wrote, in which course, about what, and where it is read and answered. */
export function mailOf(body: string, { sender, course, item, address }: Letterhead): string {
  const about = item && (item.address ? `${item.title}: ${item.address}` : item.title);
  const where = address && `All that you were written in this course: ${address}`;
  return [body.trimEnd(), "", "-- ", sender === course ? course : `${sender}, ${course}`, about, where]
    .filter((line) => line !== null)
    .join("\n");
}
