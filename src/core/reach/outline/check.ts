/** What an item must be to stand in the outline, and what lies beneath a folder. Source: semantics.md section 4. */
import { type Refusal, refuse } from "../../plan/command.ts";
import { lookup } from "../../plan/lookup.ts";
import { type Quiz, quizFault } from "../../plan/questions.ts";
import type { Item, ItemKind, Plan, Target } from "../../plan/types.ts";

const missing = (plan: Plan, { kind, id }: Target): boolean =>
  !{ group: plan.groups, section: plan.sections, person: plan.people, set: plan.sets }[kind][id];

export const splitKinds = new Set<ItemKind>(["discussion", "assignment", "quiz"]);

export function checkItem(plan: Plan, item: Item): Refusal | null {
  const { audience, variants, split } = item;
  const named = [
    ...(audience.to === "everyone" ? [] : audience.to),
    ...audience.minus,
    ...variants.flatMap(({ targets }) => targets),
  ];
  if (named.some((target) => missing(plan, target))) {
    return refuse(
      "audience.gone",
      `${item.title} names a group, section or person that is no longer there. Choose whom it is for again.`,
    );
  }
  if (item.parentId && plan.items[item.parentId]?.kind !== "folder") {
    return refuse("folder.gone", `The folder for ${item.title} is no longer there.`);
  }
  if (item.pageOf && !plan.groups[item.pageOf]) {
    return refuse("group.gone", `The group whose page ${item.title} is, is no longer there.`);
  }
  return (item.quiz ? checkQuiz(item, item.quiz) : null) ?? (split ? checkSplit(plan, item, split) : null);
}

function checkQuiz({ kind, title }: Item, quiz: Quiz): Refusal | null {
  if (kind !== "quiz") return refuse("quiz.kind", `${title} is no quiz, so it asks no questions.`);
  const fault = quizFault(quiz);
  return fault ? refuse("quiz.questions", `${title} cannot be so: ${fault} Nothing was changed.`) : null;
}

function checkSplit(plan: Plan, item: Item, split: NonNullable<Item["split"]>): Refusal | null {
  const layer = plan.layers[split.layerId];
  if (!layer) return refuse("layer.gone", `The layer along which ${item.title} is split is no longer there.`);
  if (layer.private)
    return refuse("split.private", "A private layer cannot split items: students would learn that it exists.");
  if (!splitKinds.has(item.kind))
    return refuse("split.kind", "Only discussions, assignments and quizzes can be split.");
  const fixed = plan.course.splitting;
  if (fixed?.locked && (fixed.layerId !== split.layerId || fixed.between !== split.between)) {
    const name = plan.layers[fixed.layerId]?.name ?? "a removed layer";
    return refuse(
      "split.locked",
      `The course splits every item along ${name}, ${fixed.between}, and that is locked. Unlock it in Reach, under How items are split.`,
    );
  }
  return null;
}

/** Everything beneath a folder, itself first, parents before children. */
export function beneath(plan: Plan, itemId: string): string[] {
  const ids = [itemId];
  for (let at = 0; at < ids.length; at++) {
    for (const child of lookup(plan).children.get(ids[at] as string) ?? []) ids.push(child.id);
  }
  return ids;
}

export const titleOf = (plan: Plan, itemId: string): string => plan.items[itemId]?.title ?? "a removed item";
export const gone = (): Refusal => refuse("item.gone", "The item is no longer there.");

/** "Lab 1" for one, "3 items" for several. */
export const titlesOf = (plan: Plan, itemIds: string[]): string =>
  itemIds.length === 1 ? titleOf(plan, itemIds[0] as string) : `${itemIds.length} items`;
