/**
 * Which drafted change an effect comes from: by the rows that each command changes. An effect on an item comes from the
 * commands that change it or a folder above it, one on a person from those that move them; what is left comes from the
 * commands that concern everybody. Source: semantics.md section 8.
 */
import { apply, type Command } from "../plan/apply.ts";
import { type Context, isRefusal } from "../plan/command.ts";
import { difference } from "../plan/difference.ts";
import { foldersAbove } from "../plan/lookup.ts";
import type { Plan } from "../plan/types.ts";
import type { Effect, Review } from "./effects.ts";

interface Step {
  commandId: string;
  itemIds: Set<string>;
  personIds: Set<string>;
  /** Pairs of a person and the group that they come into or leave. */
  places: Set<string>;
  /** It changes something that may concern anybody. */
  isBroad: boolean;
}

const text = (value: unknown) => (typeof value === "string" ? value : "");

function stepsOf(before: Plan, commands: Command[], context: Context): Step[] {
  const steps: Step[] = [];
  let plan = before;
  for (const command of commands) {
    const next = apply(plan, command, context);
    if (isRefusal(next)) continue;
    const step: Step = {
      commandId: command.id,
      itemIds: new Set(),
      personIds: new Set(),
      places: new Set(),
      isBroad: false,
    };
    for (const change of difference(plan, next)) {
      const row = change.after ?? change.before;
      if (change.table === "items") step.itemIds.add(change.id);
      else if (change.table === "overrides" || change.table === "entrances") step.itemIds.add(text(row?.itemId));
      else if (change.table === "placements") {
        step.personIds.add(text(row?.personId));
        step.places.add(`${text(row?.personId)}/${text(row?.groupId)}`);
      } else if (change.table === "enrolments") step.personIds.add(text(row?.personId));
      else if (change.table === "people") step.personIds.add(change.id);
      else step.isBroad = true;
    }
    steps.push(step);
    plan = next;
  }
  return steps;
}

export interface Cause {
  commandId: string;
  /** Students with an effect that comes from it. */
  personIds: Set<string>;
  /** Places in the review's lines. */
  lines: Set<number>;
}

/** For each drafted command whom it touches, and in which lines of the review. */
export function causesOf(
  published: Plan,
  drafted: Plan,
  commands: Command[],
  { lines }: Review,
  context: Context,
): Map<string, Cause> {
  const steps = stepsOf(published, commands, context);
  const causes = new Map<string, Cause>(
    steps.map(({ commandId }) => [commandId, { commandId, personIds: new Set(), lines: new Set() }]),
  );
  const above = new Map<string, string[]>();
  const withFolders = (itemId: string): string[] => {
    let ids = above.get(itemId);
    if (!ids) {
      const item = drafted.items[itemId] ?? published.items[itemId];
      const plan = drafted.items[itemId] ? drafted : published;
      ids = item ? [itemId, ...foldersAbove(plan, item).map(({ id }) => id)] : [itemId];
      above.set(itemId, ids);
    }
    return ids;
  };
  const broad = steps.filter(({ isBroad }) => isBroad);
  const ofItem = new Map<string, Step[]>();
  const stepsOfItem = (itemId: string): Step[] => {
    let found = ofItem.get(itemId);
    if (!found) {
      const ids = withFolders(itemId);
      found = steps.filter((step) => ids.some((id) => step.itemIds.has(id)));
      ofItem.set(itemId, found);
    }
    return found;
  };
  const note = (step: Step, line: number, personId: string) => {
    const cause = causes.get(step.commandId) as Cause;
    cause.lines.add(line);
    cause.personIds.add(personId);
  };
  const movers = steps.filter(({ personIds }) => personIds.size > 0);
  const direct = (effect: Effect, personId: string): Step[] =>
    effect.groupId !== null
      ? movers.filter(({ places }) => places.has(`${personId}/${effect.groupId}`))
      : [...stepsOfItem(effect.itemId ?? ""), ...movers.filter(({ personIds }) => personIds.has(personId))];
  for (const [at, { effects, personIds }] of lines.entries())
    for (const personId of personIds)
      for (const effect of effects) {
        const found = direct(effect, personId);
        for (const step of found.length > 0 ? found : broad) note(step, at, personId);
      }
  return causes;
}
