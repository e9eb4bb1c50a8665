/** Who has class meetings: a section, or a group of the meeting layer with meetings of its own. Source: semantics.md 3, 6. */
import type { NewCommand } from "../commands.ts";
import { compareText } from "../plan/lookup.ts";
import type { Plan } from "../plan/types.ts";
import { meetingGroups } from "./anchors.ts";
import type { MeetingDays } from "./meetings.ts";

export interface MeetingOwner {
  kind: "section" | "group";
  id: string;
  /** The section's code, or the group's name. */
  name: string;
  days: MeetingDays;
}

/** The section or group of an id; null where there is none. */
export function meetingOwner(plan: Plan, id: string): MeetingOwner | null {
  const section = plan.sections[id];
  if (section) return { kind: "section", id, name: section.code, days: section };
  const group = plan.groups[id];
  return group ? { kind: "group", id, name: group.name, days: group } : null;
}

/** Everyone whose meetings students may go by: sections by code, then groups in their order. */
export function meetingOwners(plan: Plan): MeetingOwner[] {
  const sections = Object.values(plan.sections).sort((a, b) => compareText(a.code, b.code));
  return [...sections, ...meetingGroups(plan)].flatMap(({ id }) => meetingOwner(plan, id) ?? []);
}

/** The command that changes some of somebody's days. */
export const changeDays = ({ kind, id }: MeetingOwner, fields: Partial<MeetingDays>): NewCommand =>
  kind === "section"
    ? { kind: "section.change", sectionId: id, fields }
    : { kind: "group.change", groupId: id, fields };
