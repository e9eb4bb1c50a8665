/** Groups and memberships as a file: out, in again, and judged row by row before anything is drafted. Source: semantics.md section 3. */
import { cellsOf, type TextTable } from "../../formats/text.ts";
import { compareNames, fullName, holdsAt, isEnrolledAt, lookup } from "../../plan/lookup.ts";
import type { Group, Layer, Person, Plan } from "../../plan/types.ts";
import { fold } from "../../text/caseless.ts";
import { groupsAt, placementsIn } from "../membership.ts";

export const groupFileHeader = ["Layer", "Group", "Label", "Student id", "Family name", "Given name", "Lead"];

/** Every membership of some layers at t, a row each; a group that nobody is in has a row without a student. */
export function groupFileRows(plan: Plan, layerIds: readonly string[], t: number): string[][] {
  return layerIds.flatMap((layerId) =>
    groupsAt(plan, layerId, t).flatMap((group) => {
      const own = [plan.layers[layerId]?.name ?? "", group.name, group.label];
      const people = placementsIn(plan, group.id, t)
        .map(({ personId }) => plan.people[personId] as Person)
        .sort(compareNames);
      if (people.length === 0) return [[...own, "", "", "", ""]];
      return people.map((one) => [
        ...own,
        one.sourcedId,
        one.familyName,
        one.givenName,
        group.leads.includes(one.id) ? "yes" : "",
      ]);
    }),
  );
}

const titles = {
  layer: /^(layer|set|grouping|division)( name)?$/,
  group: /^(group|team)( ?name)?$/,
  label: /^(label|shown|title)$/,
  id: /^((student|person|registrar'?s?|sourced) ?)?(id|no|number)$|^e-?mail$|^(user ?name|login)$/,
  lead: /^(lead|leader|role)$/,
};
type Field = keyof typeof titles;

export const placingVerdicts = ["unreadable", "duplicate", "moved", "new", "changed", "same"] as const;
export type PlacingVerdict = (typeof placingVerdicts)[number];
export interface PlacingRow {
  line: number;
  verdict: PlacingVerdict;
  says: string;
  cells: string[];
}
/** What a file asks for. New layers and groups have no id yet; they are known by their names. */
export interface GroupFile {
  header: string[];
  rows: PlacingRow[];
  counts: Record<PlacingVerdict, number>;
  layers: { name: string; id: string | null }[];
  groups: { layer: string; name: string; id: string | null; label: string | null; leads: string[] | null }[];
  into: { layer: string; group: string; personId: string }[];
  /** People in the layers named whom the file does not list: they leave, where the file is the whole of it. */
  unlisted: { layer: string; groupId: string; personId: string }[];
}

/** Whether a cell says that somebody leads the group of its row. */
export const saysLead = (text: string) => /^(yes|y|x|1|true|lead|leader|\*)$/i.test(text);
/** Whether a heading is of the column of groups. */
export const isGroupHeading = (title: string) => titles.group.test(title.toLowerCase());
const key = (...parts: string[]) => parts.map(fold).join("\n");

/** A person by id, otherwise by e-mail or username, as the course has them. */
function peopleBy(plan: Plan): Map<string, Person> {
  const found = new Map<string, Person>();
  const people = Object.values(plan.people);
  for (const person of people)
    for (const value of [person.username, person.email]) if (value) found.set(fold(value), person);
  for (const person of people) found.set(fold(person.sourcedId), person);
  return found;
}

/** Judges a file against the plan at t. `layerName` is for a file that names no layer. */
export function judgeGroupFile(
  plan: Plan,
  table: TextTable,
  layerName: string,
  t: number,
): GroupFile | { wrong: string } {
  const plain = table.header.map((title) => title.toLowerCase().replace(/[_.]/g, " ").replace(/\s+/g, " ").trim());
  const columnOf = (field: Field) => plain.findIndex((title) => titles[field].test(title));
  const at = {
    layer: columnOf("layer"),
    group: columnOf("group"),
    label: columnOf("label"),
    id: columnOf("id"),
    lead: columnOf("lead"),
  };
  if (at.group < 0)
    return {
      wrong: `${table.name} has no column called Group. Name the column that holds it, and drop the file again.`,
    };
  if (at.id < 0)
    return { wrong: `${table.name} has no column of student ids. Name it Student id, and drop the file again.` };
  const { layers, groupsOfLayer, placementsOfPerson } = lookup(plan);
  const layerBy = new Map(layers.map((layer) => [fold(layer.name), layer]));
  const groupBy = new Map<string, Group>();
  for (const layer of layers)
    for (const group of groupsOfLayer.get(layer.id) ?? []) groupBy.set(key(layer.name, group.name), group);
  const people = peopleBy(plan);
  const cells = cellsOf(table);
  const file: GroupFile = {
    header: table.header,
    rows: [],
    counts: Object.fromEntries(placingVerdicts.map((verdict) => [verdict, 0])) as GroupFile["counts"],
    layers: [],
    groups: [],
    into: [],
    unlisted: [],
  };
  const namedLayers = new Map<string, GroupFile["layers"][number]>();
  const namedGroups = new Map<string, GroupFile["groups"][number]>();
  /** Where each person stands by the file, in each layer: to find who is in two. */
  const listed = new Map<string, { group: string; line: number }[]>();
  const settle = (row: number, verdict: PlacingVerdict, says: string) => {
    file.rows.push({ line: table.lines[row] as number, verdict, says, cells: cells.row(row) });
    file.counts[verdict]++;
  };
  for (let row = 0; row < table.lines.length; row++) {
    const cell = (field: Field) => (at[field] < 0 ? "" : cells.cell(row, at[field]));
    const [layer, name, label] = [cell("layer") || layerName, cell("group"), cell("label")];
    if (layer === "") settle(row, "unreadable", "layer: none is named");
    else if (name === "") settle(row, "unreadable", `${table.header[at.group]}: no group is named`);
    else if (name.length > 200 || layer.length > 200 || label.length > 200)
      settle(row, "unreadable", "a name is longer than 200 characters");
    else {
      const there = layerBy.get(fold(layer)) ?? null;
      if (!namedLayers.has(fold(layer)))
        namedLayers.set(fold(layer), { name: there?.name ?? layer, id: there?.id ?? null });
      const group = groupBy.get(key(layer, name));
      let named = namedGroups.get(key(layer, name));
      if (!named) {
        named = {
          layer: there?.name ?? layer,
          name: group?.name ?? name,
          id: group?.id ?? null,
          label: null,
          leads: null,
        };
        namedGroups.set(key(layer, name), named);
      }
      if (label !== "") named.label ??= label;
      const [verdict, says] = judgePerson(row, cell("id"), cell("lead"), named, there, group ?? null);
      settle(row, verdict, says);
    }
  }
  function judgePerson(
    row: number,
    id: string,
    lead: string,
    named: GroupFile["groups"][number],
    layer: Layer | null,
    group: Group | null,
  ): [PlacingVerdict, string] {
    if (id === "") return [group ? "same" : "new", group ? "" : "a new group"];
    const person = people.get(fold(id));
    const isHere = person && isEnrolledAt(plan, person.id, t);
    if (!person || !isHere) return ["unreadable", `${id}: ${person ? "not enrolled now" : "nobody of this course"}`];
    const mine = listed.get(key(named.layer, person.id)) ?? [];
    const again = mine.find((one) => one.group === fold(named.name));
    if (again) return ["duplicate", `the same as line ${again.line}`];
    if (mine.length > 0 && (layer?.rule ?? "at most one") !== "any number")
      return ["unreadable", `${fullName(person)} is in ${mine[0]?.group} on line ${mine[0]?.line} already`];
    listed.set(key(named.layer, person.id), [...mine, { group: fold(named.name), line: table.lines[row] as number }]);
    if (at.lead >= 0) {
      named.leads ??= [];
      if (saysLead(lead)) named.leads.push(person.id);
    }
    const open = (placementsOfPerson.get(person.id) ?? []).filter(
      (placement) => holdsAt(placement, t) && plan.groups[placement.groupId]?.layerId === layer?.id,
    );
    if (group && open.some(({ groupId }) => groupId === group.id)) {
      const leads = group.leads.includes(person.id);
      if (at.lead >= 0 && leads !== saysLead(lead)) return ["changed", leads ? "leads no longer" : "leads"];
      return ["same", ""];
    }
    file.into.push({ layer: named.layer, group: named.name, personId: person.id });
    const from = layer?.rule === "any number" ? [] : open;
    if (from.length > 0)
      return ["moved", `from ${from.map(({ groupId }) => plan.groups[groupId]?.name).join(" and ")}`];
    return ["new", `into ${named.name}`];
  }
  file.layers = [...namedLayers.values()];
  file.groups = [...namedGroups.values()];
  for (const { name, id } of file.layers)
    for (const group of id ? groupsAt(plan, id, t) : [])
      for (const placement of placementsIn(plan, group.id, t)) {
        const mine = listed.get(key(name, placement.personId)) ?? [];
        const isListed =
          plan.layers[id ?? ""]?.rule === "any number"
            ? mine.some((one) => one.group === fold(group.name))
            : mine.length > 0;
        if (!isListed) file.unlisted.push({ layer: name, groupId: group.id, personId: placement.personId });
      }
  return file;
}
