/** Who is on the staff, and what staff note for one another. */
import { z } from "zod";
import { PersonCard } from "../core/intake/commands.ts";
import { Id, StaffMay, staffRoles } from "../core/plan/types.ts";
import { endpoint } from "./endpoint.ts";
import { Moment } from "./parts.ts";

const GivenToStaff = z.object({
  role: z.enum(staffRoles),
  sectionIds: z.array(Id).max(500),
  groupIds: z.array(Id).max(500),
  may: z.array(StaffMay).max(StaffMay.options.length),
});
export const changeStaff = endpoint("POST", "/staff", "coordinator", {
  says: "Invites somebody to the staff, changes what they are given, or withdraws them: at once.",
  body: z.union([
    z.object({ invite: PersonCard, given: GivenToStaff }),
    z.object({ change: Id, given: GivenToStaff }),
    z.object({ withdraw: Id }),
  ]),
  answer: z.strictObject({ says: z.string() }),
});

export const askForStudents = endpoint("POST", "/staff/ask", "staff", {
  says: "Asks the coordinators for sections or groups, for whoever on the staff has no student.",
  /** `id`: of the message; sent twice it is written once. */
  body: z.object({ id: Id, text: z.string().trim().max(2000) }),
  answer: z.strictObject({ at: Moment }),
});

export const NoteAbout = z.object({ kind: z.enum(["item", "group", "person"]), id: Id });
export type NoteAbout = z.infer<typeof NoteAbout>;
const StaffNote = z.strictObject({
  id: Id,
  name: z.string(),
  at: z.string(),
  body: z.string(),
  mine: z.boolean(),
});
export type StaffNote = z.infer<typeof StaffNote>;
const Notes = z.strictObject({ notes: z.array(StaffNote) });
export const readStaffNotes = endpoint("GET", "/staff-notes", "staff", {
  says: "What staff noted for one another on an item, a group or a person.",
  query: NoteAbout,
  answer: Notes,
});
export const readPronouns = endpoint("GET", "/pronouns", "staff", {
  says: "How people within one's scope like to be spoken of, as they say themselves; nobody who says nothing.",
  answer: z.strictObject({ people: z.array(z.strictObject({ personId: Id, pronouns: z.string() })) }),
});
export const readStudentNotes = endpoint("GET", "/staff-notes/students", "staff", {
  says: "Of each of one's students that staff noted something on: how many notes, and the latest.",
  answer: z.strictObject({
    students: z.array(z.strictObject({ personId: Id, count: z.number().int(), latest: z.string() })),
  }),
});
export const writeStaffNote = endpoint("POST", "/staff-notes", "staff", {
  says: "Leaves a note, or takes one's own away.",
  body: z.union([
    z.object({ about: NoteAbout, body: z.string().trim().min(1, "a text").max(5000) }),
    z.object({ about: NoteAbout, end: Id }),
  ]),
  answer: Notes,
});
