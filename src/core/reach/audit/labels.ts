/** Telling labels: what students can see, held against telling words and private names. Source: semantics.md section 4. */
import { lookup, outlineOrder } from "../../plan/lookup.ts";
import type { Item, Plan } from "../../plan/types.ts";
import { type Finding, finding } from "./finding.ts";

export interface Label {
  /** Where it stands: "the title of", "the label of the group". */
  what: string;
  text: string;
  key: string;
  item?: Item;
  groupId?: string;
  sectionId?: string;
  layerId?: string;
}

/** Every text of a plan by which students know something. */
export function labelsOf(plan: Plan): Label[] {
  const found: Label[] = outlineOrder(plan).map(({ item }) => ({
    what: item.kind === "folder" ? "the folder" : `the ${item.kind}`,
    text: item.title,
    key: `item/${item.id}`,
    item,
  }));
  for (const layer of lookup(plan).layers) {
    if (layer.private) continue;
    found.push({ what: "the layer", text: layer.name, key: `layer/${layer.id}`, layerId: layer.id });
    for (const group of lookup(plan).groupsOfLayer.get(layer.id) ?? [])
      found.push({ what: "the group label", text: group.label, key: `group/${group.id}`, groupId: group.id });
  }
  for (const section of Object.values(plan.sections))
    found.push({
      what: "the section title",
      text: section.studentTitle,
      key: `section/${section.id}`,
      sectionId: section.id,
    });
  return found;
}

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");
const patterns = new Map<string, RegExp>();
/** Whether a text holds a phrase as whole words, without case. */
export function holdsPhrase(text: string, phrase: string): boolean {
  // Most texts hold not even the first word: no pattern is made for them.
  const [first = ""] = phrase.trim().split(/\s+/, 1);
  if (!text.toLowerCase().includes(first.toLowerCase()) && text === text.normalize("NFC")) return false;
  let pattern = patterns.get(phrase);
  if (!pattern) {
    const words = phrase.normalize("NFC").trim().split(/\s+/).map(escaped).join("\\s+");
    pattern = new RegExp(`(?<![\\p{L}\\p{N}])${words}(?![\\p{L}\\p{N}])`, "iu");
    if (patterns.size > 5000) patterns.clear();
    patterns.set(phrase, pattern);
  }
  return pattern.test(text.normalize("NFC"));
}

/** Names that students must not learn: private layers and their groups, of four letters or more. */
export function privateNames(plan: Plan): string[] {
  const { layers, groupsOfLayer } = lookup(plan);
  const names = layers
    .filter((layer) => layer.private)
    .flatMap((layer) => [layer.name, ...(groupsOfLayer.get(layer.id) ?? []).map(({ name }) => name)]);
  return [...new Set(names)].filter((name) => name.replace(/[^\p{L}]/gu, "").length >= 4);
}

export function tellingLabels(plan: Plan): Finding[] {
  const hidden = privateNames(plan);
  return labelsOf(plan).flatMap(({ what, text, key, item }) => {
    const names = hidden.filter((name) => holdsPhrase(text, name));
    const words = plan.course.tellingWords.filter((word) => holdsPhrase(text, word));
    const found: Finding[] = [];
    const place = what[0]?.toUpperCase() + what.slice(1);
    if (names.length > 0)
      found.push(
        finding(plan, {
          key: `private name/${key}`,
          kind: "private name",
          ...(item ? { item } : {}),
          subject: text,
          says: `${place} "${text}" names ${names.map((name) => `"${name}"`).join(" and ")}, which is private.`,
          why: "Whoever sees it learns that the private layer or group exists.",
          about: [text, names],
        }),
      );
    if (words.length > 0)
      found.push(
        finding(plan, {
          key: `telling/${key}`,
          kind: "telling",
          ...(item ? { item } : {}),
          subject: text,
          says: `${place} "${text}" may tell a level or a need.`,
          why: `It holds ${words.map((word) => `"${word}"`).join(" and ")}, from the course's list of telling words.`,
          about: [text, words],
        }),
      );
    return found;
  });
}
