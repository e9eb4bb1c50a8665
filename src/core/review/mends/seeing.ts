/** Mends of who sees whom, and of labels that tell too much. */
import { lookup } from "../../plan/lookup.ts";
import { holdsPhrase, labelsOf, privateNames } from "../../reach/audit/labels.ts";
import { type Candidate, type Case, change } from "./candidate.ts";

/** A surface: threads sealed or split, the class list narrowed, names hidden. */
export function ofSightline({ plan, finding }: Case): Candidate[] {
  const [, layerId = "", where = "", named = ""] = finding.key.split("/");
  const layer = plan.layers[layerId];
  if (!layer) return [];
  const item = finding.itemId ? plan.items[finding.itemId] : undefined;
  if (item) {
    const along = change(`Split it along ${layer.name}, sealed`, item, { split: { layerId, between: "sealed" } });
    if (!item.split) return [along];
    return [change("Seal its threads", item, { split: { ...item.split, between: "sealed" } }), along];
  }
  if (where === "class list")
    return [
      {
        says: `Show on the class list only those who share a group of ${layer.name}`,
        commands: [{ kind: "course.classList", classList: { to: "layer", layerId } }],
      },
      { says: "Show nobody on the class list", commands: [{ kind: "course.classList", classList: { to: "nobody" } }] },
    ];
  if (where === "pages") {
    const groupIds = (lookup(plan).groupsOfLayer.get(named) ?? []).filter(({ page }) => page).map(({ id }) => id);
    const says = `Take the pages of ${plan.layers[named]?.name ?? "the layer"} away`;
    return groupIds.length > 0 ? [{ says, commands: [{ kind: "group.page", groupIds, page: null }] }] : [];
  }
  const open = plan.layers[named];
  if (!open?.selfPlacement) return [];
  const selfPlacement = { ...open.selfPlacement, showNames: false };
  return [
    {
      says: `Hide the names in ${open.name}`,
      commands: [{ kind: "layer.selfPlacement", layerId: named, selfPlacement }],
    },
  ];
}

/** A label without the words that tell, where something is left of it. */
export function ofLabel({ plan, finding }: Case): Candidate[] {
  const key = finding.key.slice(finding.key.indexOf("/") + 1);
  const label = labelsOf(plan).find((one) => one.key === key);
  if (!label) return [];
  const words = [...privateNames(plan), ...plan.course.tellingWords].filter((word) => holdsPhrase(label.text, word));
  let text = label.text;
  for (const word of words.sort((a, b) => b.length - a.length)) {
    const at = text.toLowerCase().indexOf(word.toLowerCase());
    if (at >= 0) text = text.slice(0, at) + text.slice(at + word.length);
  }
  const left = text.replace(/\s+/g, " ").replace(/^[\s,:;-]+|[\s,:;-]+$/g, "");
  if (left.length < 2) return [];
  const title = left[0]?.toUpperCase() + left.slice(1);
  const says = `Call it "${title}"`;
  if (label.item) return [change(says, label.item, { title })];
  if (label.groupId)
    return [{ says, commands: [{ kind: "group.change", groupId: label.groupId, fields: { label: title } }] }];
  return [];
}
