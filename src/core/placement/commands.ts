/** Commands that put people into groups. Source: semantics.md section 3. */

import { z } from "zod";
import { type Context, defineCommand, derivedId, put, type Refusal, refuse } from "../plan/command.ts";
import { fullName, holdsAt, isEnrolledAt, lookup } from "../plan/lookup.ts";
import { Id, type Layer, type Placement, type Plan } from "../plan/types.ts";
import { plural } from "../text/plural.ts";
import { follow } from "./following.ts";
import { studentsOf } from "./membership.ts";

const People = z.array(Id).min(1).max(10_000);

/** The plan after every following layer has followed. */
export function followAll(plan: Plan, commandId: string, context: Context, layers = lookup(plan).layers): Plan {
  let next = plan;
  for (const layer of layers) {
    if (!layer.following) continue;
    const { ended, begun } = follow(next, layer, context.now, (personId) => derivedId(commandId, layer.id, personId));
    next = put(next, "placements", [...ended, ...begun]);
  }
  return next;
}

/** Ends placements at a moment; one that has not begun by then never was. */
export function end(plan: Plan, placements: readonly Placement[], at: number): Plan {
  return put(
    plan,
    "placements",
    placements.map((placement) => ({ ...placement, until: Math.max(at, placement.since) })),
  );
}

export const openPlacements = (plan: Plan, personId: string, now: number): Placement[] =>
  (lookup(plan).placementsOfPerson.get(personId) ?? []).filter((placement) => holdsAt(placement, now));

const countPeople = (plan: Plan, personIds: string[]) => {
  const [only] = personIds;
  const person = personIds.length === 1 && only ? plan.people[only] : undefined;
  return person ? fullName(person) : `${personIds.length} people`;
};

function place(
  plan: Plan,
  command: { id: string; groupId: string; personIds: string[] },
  context: Context,
): Plan | Refusal {
  const group = plan.groups[command.groupId];
  if (!group || group.archivedAt !== null)
    return refuse("group.gone", "The group is no longer there. Choose another one.");
  const layer = plan.layers[group.layerId] as Layer;
  const personIds = [...new Set(command.personIds)];
  const unknownNames = personIds.filter((id) => !isEnrolledAt(plan, id, context.now));
  if (unknownNames.length > 0) {
    return refuse(
      "placement.stranger",
      `${countPeople(plan, unknownNames)} not enrolled in this course now. Add them to a section first.`,
    );
  }
  const ended: Placement[] = [];
  const begun: Placement[] = [];
  for (const personId of personIds) {
    const theirs = openPlacements(plan, personId, context.now).filter(
      (p) => plan.groups[p.groupId]?.layerId === layer.id,
    );
    const already = theirs.find((p) => p.groupId === group.id);
    if (layer.rule !== "any number") ended.push(...theirs.filter((p) => p !== already));
    const held = layer.following !== null;
    if (already) {
      if (held && !already.held) begun.push({ ...already, held });
      continue;
    }
    begun.push({
      id: derivedId(command.id, group.id, personId),
      groupId: group.id,
      personId,
      since: context.now,
      until: null,
      held,
    });
  }
  const next = put(end(plan, ended, context.now), "placements", begun);
  if (group.max === null) return next;
  const size = studentsOf(next, group.id, context.now).length;
  if (size > group.max) {
    return refuse(
      "placement.full",
      `${group.name} holds ${plural(group.max, "student")} at most; this would make ${size}.`,
    );
  }
  return next;
}

const groupName = (plan: Plan, groupId: string) => plan.groups[groupId]?.name ?? "a removed group";

export const placementCommands = [
  defineCommand(
    "placement.place",
    { groupId: Id, personIds: People },
    {
      apply: place,
      describe: (plan, { groupId, personIds }) => `${countPeople(plan, personIds)} into ${groupName(plan, groupId)}`,
    },
  ),
  defineCommand(
    "placement.remove",
    { groupId: Id, personIds: People },
    {
      apply(plan, { groupId, personIds }, { now }) {
        const ended = personIds.flatMap((id) => openPlacements(plan, id, now).filter((p) => p.groupId === groupId));
        if (ended.length === 0)
          return refuse("placement.gone", `None of them is in ${groupName(plan, groupId)} any more.`);
        return end(plan, ended, now);
      },
      describe: (plan, { groupId, personIds }) => `${countPeople(plan, personIds)} out of ${groupName(plan, groupId)}`,
    },
  ),
  defineCommand(
    "placement.hold",
    { groupId: Id, personIds: People, held: z.boolean() },
    {
      apply(plan, command, context) {
        const rows = command.personIds.flatMap((id) =>
          openPlacements(plan, id, context.now).filter((placement) => placement.groupId === command.groupId),
        );
        if (rows.length === 0)
          return refuse("placement.gone", `None of them is in ${groupName(plan, command.groupId)} any more.`);
        const next = put(
          plan,
          "placements",
          rows.map((placement) => ({ ...placement, held: command.held })),
        );
        // Released placements follow the sections again at once.
        return command.held ? next : followAll(next, command.id, context);
      },
      describe: (plan, { groupId, personIds, held }) =>
        `${held ? "Hold" : "Release"} ${countPeople(plan, personIds)} in ${groupName(plan, groupId)}`,
    },
  ),
] as const;
