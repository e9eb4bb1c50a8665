/** Students placing themselves: by choosing a group that has room, or by typing a code. Source: semantics.md section 3. */

import { instantOf } from "../clock/local-time.ts";
import { derivedId, put, type Refusal, refuse } from "../plan/command.ts";
import { compareText, holdsAt, isStudentAt, lookup, plainName } from "../plan/lookup.ts";
import type { Enrolment, Group, Layer, Placement, Plan, Stripe } from "../plan/types.ts";
import { fold } from "../text/caseless.ts";
import { foldCode } from "../text/codes.ts";
import { end, followAll, openPlacements } from "./commands.ts";
import { studentsOf } from "./membership.ts";

/** Codes that were typed, a group and its code a line, by the group's name, its label or its mark. */
export function readTypedCodes(
  groups: readonly Group[],
  text: string,
): { codes: Map<string, string>; unclear: string[] } {
  const [codes, unclear] = [new Map<string, string>(), [] as string[]];
  for (const line of text.split("\n").map((one) => one.trim())) {
    if (line === "") continue;
    // A name may hold what stands between a group and its code, so every such place is tried.
    const parts = [...line.matchAll(/\s*[:\t=,]\s*(?=\S)/g)].map(({ index, 0: between }) => ({
      group: groups.find(({ name, label, stripe }) =>
        [name, label, stripe.mark].map(fold).includes(fold(line.slice(0, index))),
      ),
      code: line.slice(index + between.length),
    }));
    const { group, code = "" } = parts.find((part) => part.group) ?? {};
    if (group) codes.set(group.id, code);
    else unclear.push(line);
  }
  return { codes, unclear };
}

/** Every code of the course, folded, and whose it is; without those of some groups. */
export function codesOf(plan: Plan, without: ReadonlySet<string> = new Set()): Map<string, string> {
  const found = new Map<string, string>();
  for (const group of Object.values(plan.groups))
    if (group.code !== null && !without.has(group.id)) found.set(foldCode(group.code), group.name);
  if (plan.course.visitorCode) found.set(foldCode(plan.course.visitorCode), "visitors");
  return found;
}

/** Whether the layer takes placements at t; where it does not, whether it will. */
export function windowAt(plan: Plan, layer: Layer, t: number): "before" | "open" | "after" | "none" {
  const { selfPlacement } = layer;
  if (!selfPlacement || layer.private || layer.archivedAt !== null) return "none";
  const zone = plan.course.timeZone;
  if (selfPlacement.opens && t < instantOf(selfPlacement.opens, zone)) return "before";
  if (selfPlacement.closes && t >= instantOf(selfPlacement.closes, zone)) return "after";
  return "open";
}

const mine = (plan: Plan, layer: Layer, personId: string, t: number): Placement[] =>
  openPlacements(plan, personId, t).filter(({ groupId }) => plan.groups[groupId]?.layerId === layer.id);

export interface ShownGroup {
  id: string;
  label: string;
  description: string;
  stripe: Stripe;
  count: number;
  max: number | null;
  isFull: boolean;
  isMine: boolean;
  /** Members by name, where the coordinator lets them be seen. */
  names: string[];
}
/** A layer as a student sees it who may place themselves in it. It holds no id or name of a private layer. */
export interface ShownLayer {
  id: string;
  name: string;
  window: "before" | "open" | "after";
  opens: string | null;
  closes: string | null;
  by: "choice" | "code";
  help: string;
  /** Whether a further group can be taken beside those that are theirs. */
  several: boolean;
  /** To choose from; of a layer with codes only those that are theirs. */
  groups: ShownGroup[];
}

/** What a student sees of self-placement at t. */
export function selfPlacementOf(plan: Plan, personId: string, t: number): ShownLayer[] {
  return lookup(plan).layers.flatMap((layer) => {
    const window = windowAt(plan, layer, t);
    if (window === "none" || !layer.selfPlacement) return [];
    const { by, help, opens, closes, showNames } = layer.selfPlacement;
    const theirs = new Set(mine(plan, layer, personId, t).map(({ groupId }) => groupId));
    const groups = (lookup(plan).groupsOfLayer.get(layer.id) ?? []).filter(
      ({ id }) => theirs.has(id) || (by === "choice" && window === "open"),
    );
    const shown = groups.map((group): ShownGroup => {
      const members = studentsOf(plan, group.id, t);
      return {
        id: group.id,
        label: group.label,
        description: group.description,
        stripe: group.stripe,
        count: members.length,
        max: group.max,
        isFull: group.max !== null && members.length >= group.max,
        isMine: theirs.has(group.id),
        names: showNames
          ? members
              .map((id) => plan.people[id])
              .filter((person) => person !== undefined)
              .map(plainName)
              .sort(compareText)
          : [],
      };
    });
    const several = layer.rule === "any number";
    return [{ id: layer.id, name: layer.name, window, opens, closes, by, help, several, groups: shown }];
  });
}

const closed = (plan: Plan, layer: Layer, t: number): Refusal | null => {
  const window = windowAt(plan, layer, t);
  if (window === "open") return null;
  return window === "before"
    ? refuse("self.before", "This is not open yet. Come back when it is.")
    : refuse("self.closed", "This is closed by now. Ask your coordinator.");
};

/** The one section that a group follows, if it follows just one. */
export function sectionOfGroup(plan: Plan, group: Group): string | null {
  const rules = (plan.layers[group.layerId]?.following ?? []).filter(({ groupId }) => groupId === group.id);
  const sections = new Set(rules.flatMap(({ sectionIds }) => sectionIds));
  const isPlain = rules.length > 0 && rules.every(({ sectionIds }) => sectionIds.length > 0);
  const [only] = sections;
  return isPlain && sections.size === 1 && only ? only : null;
}

function isFullFor(plan: Plan, group: Group, personId: string, t: number): Refusal | null {
  const students = studentsOf(plan, group.id, t);
  return group.max !== null && students.length >= group.max && !students.includes(personId)
    ? refuse("self.full", `${group.label} is full: ${students.length} of ${group.max}. Choose another one.`)
    : null;
}

function placeIn(plan: Plan, id: string, personId: string, group: Group, t: number): Plan | Refusal {
  const layer = plan.layers[group.layerId] as Layer;
  const theirs = mine(plan, layer, personId, t);
  if (theirs.some(({ groupId }) => groupId === group.id)) return plan;
  const full = isFullFor(plan, group, personId, t);
  if (full) return full;
  const ended = layer.rule === "any number" ? [] : theirs;
  const begun: Placement = {
    id: derivedId(id, group.id, personId),
    groupId: group.id,
    personId,
    since: t,
    until: null,
    // Their own choice, which following the sections does not undo.
    held: layer.following !== null,
  };
  return put(end(plan, ended, t), "placements", [begun]);
}

/** A student takes a group of a layer that is open for choosing. `id` names the row that begins. */
export function chooseGroup(plan: Plan, id: string, personId: string, groupId: string, t: number): Plan | Refusal {
  const group = plan.groups[groupId];
  const layer = plan.layers[group?.layerId ?? ""];
  if (
    !group ||
    group.archivedAt !== null ||
    layer?.selfPlacement?.by !== "choice" ||
    windowAt(plan, layer, t) === "none"
  )
    return refuse("self.gone", "This group is not there to choose. Choose another one.");
  if (!isStudentAt(plan, personId, t)) return refuse("self.stranger", "Only students of the course can choose.");
  return closed(plan, layer, t) ?? placeIn(plan, id, personId, group, t);
}

/** A student gives a group back, to choose again until the window closes. */
export function leaveGroup(plan: Plan, personId: string, groupId: string, t: number): Plan | Refusal {
  const layer = plan.layers[plan.groups[groupId]?.layerId ?? ""];
  if (!layer || windowAt(plan, layer, t) === "none") return refuse("self.gone", "This group is not there to leave.");
  const theirs = mine(plan, layer, personId, t).filter((placement) => placement.groupId === groupId);
  return closed(plan, layer, t) ?? end(plan, theirs, t);
}

/** Who types a code: a person of the course, or somebody with an account who is not in it. */
export interface Typist {
  sourcedId: string;
  username: string | null;
  givenName: string;
  familyName: string;
}
export interface CodeTaken {
  plan: Plan;
  /** What the code did. */
  kind: "placed" | "visitor";
  /** The label of the group. */
  label: string;
}
export const wrongCode = () =>
  refuse("self.code", "No group has this code. Check each letter, or ask whoever gave it to you. Nothing was changed.");

/** Whether the course knows a code, however its window stands. */
export function knowsCode(plan: Plan, typed: string, t: number): boolean {
  const code = foldCode(typed);
  return (
    (plan.course.visitorCode !== null && foldCode(plan.course.visitorCode) === code) ||
    groupOfCode(plan, code, t) !== null
  );
}
function groupOfCode(plan: Plan, code: string, t: number): Group | null {
  const group = Object.values(plan.groups).find((one) => one.code !== null && foldCode(one.code) === code);
  const layer = plan.layers[group?.layerId ?? ""];
  return group && layer && group.archivedAt === null && windowAt(plan, layer, t) !== "none" ? group : null;
}

/**
 * A right code places, and enrols first where the person is not in the course: into the section that the group
 * follows where that is one section. A visitor's code enrols as a visitor. A wrong one changes nothing.
 */
export function takeCode(plan: Plan, id: string, who: Typist, typed: string, t: number): CodeTaken | Refusal {
  const code = foldCode(typed);
  const known = Object.values(plan.people).find(({ sourcedId }) => sourcedId === who.sourcedId);
  const personId = known?.id ?? derivedId(id, "person");
  const withPerson = known ? plan : put(plan, "people", [{ ...who, id: personId, email: null, attributes: {} }]);
  const enrolments = (lookup(plan).enrolmentsOfPerson.get(personId) ?? []).filter((row) => holdsAt(row, t));
  const enrol = (base: Plan, role: Enrolment["role"], sectionId: string | null): Plan =>
    put(base, "enrolments", [
      {
        id: derivedId(id, "enrolment"),
        personId,
        sectionId,
        role,
        since: t,
        until: null,
        origin: "code",
        home: false,
      },
    ]);
  if (code !== "" && plan.course.visitorCode !== null && foldCode(plan.course.visitorCode) === code)
    return {
      plan: enrolments.length > 0 ? plan : enrol(withPerson, "visitor", null),
      kind: "visitor",
      label: plan.course.title,
    };
  const group = groupOfCode(plan, code, t);
  if (!group) return wrongCode();
  const layer = plan.layers[group.layerId] as Layer;
  const shut = closed(plan, layer, t);
  if (shut) return shut;
  const isStudent = enrolments.some(({ role }) => role === "student");
  if (enrolments.some(({ role }) => role !== "student" && role !== "visitor"))
    return refuse("self.staff", "You are staff of this course; a code is for its students.");
  // A visitor who turns out to be a student is one from now on.
  const visits = enrolments.filter(({ role }) => role === "visitor").map((row) => ({ ...row, until: t }));
  const enrolled = isStudent
    ? plan
    : enrol(put(withPerson, "enrolments", visits), "student", sectionOfGroup(plan, group));
  // Whoever is new lands in every layer that follows the sections, and perhaps where the code leads already.
  const landed = isStudent ? enrolled : followAll(enrolled, id, { now: t });
  const placed = isFullFor(plan, group, personId, t) ?? placeIn(landed, id, personId, group, t);
  return "refused" in placed ? placed : { plan: placed, kind: "placed", label: group.label };
}

const letters = "ABCDEFGHJKMNPQRSTUVWXYZ23456789";
/**
 * A code for each group, by a pattern in which {mark} and {name} are the group's, {n} its number, and each ? a letter or
 * digit at random that cannot be mistaken for another. `random` gives whole numbers below its argument.
 */
export function codesFor(
  groups: readonly Group[],
  pattern: string,
  taken: ReadonlySet<string>,
  random: (below: number) => number,
): { groupId: string; code: string }[] {
  const used = new Set([...taken].map(foldCode));
  return groups.map((group, at) => {
    const base = pattern
      .replaceAll("{mark}", group.stripe.mark)
      .replaceAll("{name}", group.name.replace(/\s+/g, "-"))
      .replaceAll("{n}", String(at + 1));
    const make = () => base.replace(/\?/g, () => letters[random(letters.length)] as string).slice(0, 40);
    let code = make();
    for (let further = 2; used.has(foldCode(code)) || code.trim().length < 3; further++)
      code = base.includes("?") && further < 50 ? make() : `${base.slice(0, 32)}-${further}`;
    used.add(foldCode(code));
    return { groupId: group.id, code };
  });
}
