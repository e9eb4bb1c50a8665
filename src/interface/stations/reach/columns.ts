/** The columns of the crossings: groups of a layer, registrar's sections, or single students; very many are folded. */
import { compareText, fullName, lookup } from "../../../core/plan/lookup.ts";
import type { Stripe, Target } from "../../../core/plan/types.ts";
import type { Reach } from "../../../core/reach/reach.ts";
import { type Bits, emptyBits, listBits, or, setBit } from "../../../core/sets/bits.ts";

/** What stands in the columns. `of`: within this target; `block`: a fold that was opened, as places in the whole. */
export type ColumnView =
  | { kind: "layer"; layerId: string; scopeId?: string | null; block?: [number, number] }
  | { kind: "sections"; block?: [number, number] }
  | { kind: "students"; of: Target; name: string; block?: [number, number] };

export interface Column {
  id: string;
  name: string;
  stripe: Stripe | null;
  isPrivate: boolean;
  members: Bits;
  /** What its head opens; null where there is nothing within. */
  within: ColumnView | null;
}

/** More than this many are folded into shares. */
export const mostColumns = 40;

export function columnsOf(reach: Reach, view: ColumnView): Column[] {
  const columns =
    view.kind === "layer"
      ? groupColumns(reach, view)
      : view.kind === "sections"
        ? sectionColumns(reach)
        : studentColumns(reach, view.of);
  if (view.block) return columns.slice(...view.block);
  return columns.length > mostColumns ? folded(columns, view) : columns;
}

function groupColumns(reach: Reach, view: Extract<ColumnView, { kind: "layer" }>): Column[] {
  const { plan } = reach;
  const groups = lookup(plan).groupsOfLayer.get(view.layerId) ?? [];
  const isPrivate = plan.layers[view.layerId]?.private ?? false;
  const within =
    view.scopeId === undefined ? groups : groups.filter(({ scopeGroupId }) => scopeGroupId === view.scopeId);
  const columns = within.map(
    (group): Column => ({
      id: group.id,
      name: group.name,
      stripe: group.stripe,
      isPrivate,
      members: reach.members({ kind: "group", id: group.id }),
      within: { kind: "students", of: { kind: "group", id: group.id }, name: group.name },
    }),
  );
  const scopes = [...new Set(groups.map(({ scopeGroupId }) => scopeGroupId))];
  if (view.scopeId !== undefined || columns.length <= mostColumns || scopes.length < 2) return columns;
  // Formed groups are seen by what they were formed within.
  return scopes.map((scopeId): Column => {
    const scope = scopeId === null ? undefined : plan.groups[scopeId];
    const members = groups
      .filter(({ scopeGroupId }) => scopeGroupId === scopeId)
      .reduce((bits, { id }) => or(bits, reach.members({ kind: "group", id })), emptyBits(reach.students.length));
    return {
      id: `scope ${scopeId}`,
      name: scope?.name ?? "Of everyone",
      stripe: scope?.stripe ?? null,
      isPrivate,
      members,
      within: { kind: "layer", layerId: view.layerId, scopeId },
    };
  });
}

const sectionColumns = (reach: Reach): Column[] =>
  Object.values(reach.plan.sections)
    .sort((a, b) => compareText(a.code, b.code))
    .map(({ id, code }) => ({
      id,
      name: code,
      stripe: null,
      isPrivate: false,
      members: reach.members({ kind: "section", id }),
      within: { kind: "students", of: { kind: "section", id }, name: code },
    }));

const studentColumns = (reach: Reach, of: Target): Column[] =>
  listBits(reach.members(of)).map((index) => {
    const personId = reach.students[index] as string;
    const person = reach.plan.people[personId];
    const members = emptyBits(reach.students.length);
    setBit(members, index);
    return {
      id: personId,
      name: person ? fullName(person) : "",
      stripe: null,
      isPrivate: false,
      members,
      within: null,
    };
  });

/** Neighbours together, so many that no more than forty columns remain. */
function folded(columns: Column[], view: ColumnView): Column[] {
  const size = Math.max(10, Math.ceil(columns.length / mostColumns));
  const found: Column[] = [];
  for (let from = 0; from < columns.length; from += size) {
    const block = columns.slice(from, from + size);
    const [first, last] = [block[0] as Column, block.at(-1) as Column];
    found.push({
      id: `block ${from}`,
      name: block.length === 1 ? first.name : `${first.name} to ${last.name}`,
      stripe: null,
      isPrivate: first.isPrivate,
      members: block.map(({ members }) => members).reduce(or),
      within: { ...view, block: [from, from + size] },
    });
  }
  return found;
}
