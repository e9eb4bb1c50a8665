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

/** The words of a text as they are compared: NFC, without case, letters and figures only. */
const wordsOf = (text: string): string[] =>
  text
    .normalize("NFC")
    .toLowerCase()
    .match(/[\p{L}\p{N}]+/gu) ?? [];

/** Finds which of some phrases a text holds as whole words, without case. Asked of many texts, it reads each once. */
export function phraseFinder<Phrase>(
  phrases: Phrase[],
  wordsIn: (phrase: Phrase) => string,
): (text: string) => Phrase[] {
  const byFirst = new Map<string, { phrase: Phrase; words: string[] }[]>();
  for (const phrase of phrases) {
    const words = wordsOf(wordsIn(phrase));
    const [first] = words;
    if (first !== undefined) byFirst.set(first, [...(byFirst.get(first) ?? []), { phrase, words }]);
  }
  return (text) => {
    const words = wordsOf(text);
    const found = new Set<Phrase>();
    for (let at = 0; at < words.length; at++)
      for (const one of byFirst.get(words[at] as string) ?? [])
        if (one.words.every((word, place) => words[at + place] === word)) found.add(one.phrase);
    return phrases.length < 50 ? phrases.filter((phrase) => found.has(phrase)) : [...found];
  };
}

/** Whether a text holds a phrase as whole words, without case. */
export const holdsPhrase = (text: string, phrase: string): boolean =>
  phraseFinder([phrase], (one) => one)(text).length > 0;

/** Names that students must not learn: private layers and their groups, of four letters or more. */
export function privateNames(plan: Plan): string[] {
  const { layers, groupsOfLayer } = lookup(plan);
  const names = layers
    .filter((layer) => layer.private)
    .flatMap((layer) => [layer.name, ...(groupsOfLayer.get(layer.id) ?? []).map(({ name }) => name)]);
  return [...new Set(names)].filter((name) => name.replace(/[^\p{L}]/gu, "").length >= 4);
}

export function tellingLabels(plan: Plan): Finding[] {
  const namesIn = phraseFinder(privateNames(plan), (name) => name);
  const wordsTelling = phraseFinder(plan.course.tellingWords, (word) => word);
  return labelsOf(plan).flatMap(({ what, text, key, item }) => {
    const [names, words] = [namesIn(text), wordsTelling(text)];
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
