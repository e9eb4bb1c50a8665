/** Commands on sections and enrolments that are drafted (an intake itself is live). Source: semantics.md section 2. */
import { followAll } from "../placement/commands.ts";
import { defineCommand, put, refuse } from "../plan/command.ts";
import { fullName, lookup } from "../plan/lookup.ts";
import { Id, Section } from "../plan/types.ts";

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
