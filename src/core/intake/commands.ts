/** Commands on sections and enrolments that are drafted (an intake itself is live). Source: semantics.md section 2. */

import { z } from "zod";
import { followAll } from "../placement/commands.ts";
import { defineCommand, derivedId, put, type Refusal, refuse } from "../plan/command.ts";
import { fullName, holdsAt, lookup } from "../plan/lookup.ts";
import { withCourse } from "../plan/tables.ts";
import { type Enrolment, Id, NoClassDay, Person, type Plan, Role, Section } from "../plan/types.ts";
import { fold } from "../text/caseless.ts";
import { isolated } from "../text/names.ts";

/** Somebody as the institution's directory lists them, or as they are typed. */
export const PersonCard = Person.omit({ id: true, attributes: true });
export type PersonCard = z.infer<typeof PersonCard>;

/** Why a card cannot become a person of the course: its login belongs to somebody else. */
function loginTaken(plan: Plan, card: PersonCard): string | null {
  for (const field of ["username", "email"] as const) {
    const value = card[field];
    if (!value) continue;
    const holder = Object.values(plan.people).find(
      (person) => person.sourcedId !== card.sourcedId && person[field] !== null && fold(person[field]) === fold(value),
    );
    if (holder) return `${value} belongs to ${isolated(fullName(holder))} (${holder.sourcedId}) already.`;
  }
  return null;
}

/** The plan with a card's person in it: the one known by its id, or somebody new. */
export function withPerson(
  plan: Plan,
  commandId: string,
  card: PersonCard,
): { plan: Plan; personId: string } | Refusal {
  const known = Object.values(plan.people).find(({ sourcedId }) => sourcedId === card.sourcedId);
  if (known) return { plan, personId: known.id };
  const taken = loginTaken(plan, card);
  if (taken)
    return refuse("person.login", `${isolated(fullName(card))} cannot be added: ${taken} Correct it and try again.`);
  const id = derivedId(commandId, "person", card.sourcedId);
  return { plan: put(plan, "people", [{ id, ...card, attributes: {} }]), personId: id };
}

export const intakeCommands = [
  defineCommand(
    "section.change",
    { sectionId: Id, fields: Section.omit({ id: true, code: true }).partial() },
    {
      apply(plan, { sectionId, fields }) {
        const section = plan.sections[sectionId];
        return section
          ? put(plan, "sections", [{ ...section, ...fields }])
          : refuse("section.gone", "The section is no longer there.");
      },
      describe: (plan, { sectionId }) => `Change section ${plan.sections[sectionId]?.code ?? ""}`,
    },
  ),
  defineCommand(
    "course.noClassDays",
    { days: z.array(NoClassDay).max(200) },
    {
      apply: (plan, { days }) => withCourse(plan, { noClassDays: [...days].sort((a, b) => (a.day < b.day ? -1 : 1)) }),
      describe: (_plan, { days }) => `${days.length} no-class days of the course`,
    },
  ),
  defineCommand(
    "enrolment.add",
    { people: z.array(PersonCard).min(1).max(500), sectionId: Id.nullable(), role: Role },
    {
      apply(plan, { id, people, sectionId, role }, context) {
        if (sectionId !== null && !plan.sections[sectionId])
          return refuse("section.gone", "That section is no longer there. Choose another one.");
        let next = plan;
        const enrolments: Enrolment[] = [];
        for (const card of people) {
          const added = withPerson(next, id, card);
          if ("refused" in added) return added;
          next = added.plan;
          const { personId } = added;
          const isThere = (lookup(plan).enrolmentsOfPerson.get(personId) ?? []).some(
            (row) => row.sectionId === sectionId && row.role === role && holdsAt(row, context.now),
          );
          if (isThere || enrolments.some((row) => row.personId === personId)) continue;
          enrolments.push({
            id: derivedId(id, "enrolment", personId),
            personId,
            sectionId,
            role,
            since: context.now,
            until: null,
            origin: "hand",
            home: false,
          });
        }
        if (enrolments.length === 0)
          return refuse("enrolment.there", "Everyone chosen is there already. Nothing was drafted.");
        return followAll(put(next, "enrolments", enrolments), id, context);
      },
      describe: (plan, { people, sectionId }) =>
        `Add ${people.length === 1 && people[0] ? fullName(people[0]) : `${people.length} people`} to ${plan.sections[sectionId ?? ""]?.code ?? "the course"}`,
    },
  ),
  defineCommand(
    "enrolment.end",
    { enrolmentIds: z.array(Id).min(1).max(5000) },
    {
      apply(plan, { id, enrolmentIds }, context) {
        const open = enrolmentIds
          .map((enrolmentId) => plan.enrolments[enrolmentId])
          .filter((row) => row !== undefined && row.until === null) as Enrolment[];
        if (open.length === 0)
          return refuse("enrolment.gone", "They are not enrolled there any more. Nothing was drafted.");
        const ended = open.map((row) => ({ ...row, until: Math.max(context.now, row.since) }));
        return followAll(put(plan, "enrolments", ended), id, context);
      },
      describe(plan, { enrolmentIds }) {
        const [row] = enrolmentIds.map((enrolmentId) => plan.enrolments[enrolmentId]);
        const person = plan.people[row?.personId ?? ""];
        const who = enrolmentIds.length === 1 && person ? fullName(person) : `${enrolmentIds.length} people`;
        return `Remove ${who} from ${plan.sections[row?.sectionId ?? ""]?.code ?? "the course"}`;
      },
    },
  ),
  defineCommand(
    "enrolment.home",
    { enrolmentId: Id },
    {
      apply(plan, { id, enrolmentId }, context) {
        const chosen = plan.enrolments[enrolmentId];
        if (!chosen || chosen.until !== null)
          return refuse("enrolment.gone", "That enrolment has ended. Choose another section.");
        const rows = (lookup(plan).enrolmentsOfPerson.get(chosen.personId) ?? []).map((row) => ({
          ...row,
          home: row.id === enrolmentId,
        }));
        return followAll(put(plan, "enrolments", rows), id, context);
      },
      describe(plan, { enrolmentId }) {
        const enrolment = plan.enrolments[enrolmentId];
        const person = plan.people[enrolment?.personId ?? ""];
        return `Home section of ${person ? fullName(person) : "somebody"}: ${plan.sections[enrolment?.sectionId ?? ""]?.code ?? "none"}`;
      },
    },
  ),
] as const;
