/**
 * Questions out of IMS QTI 2.1: an item alone, or a package with a test or without. What is not understood is told with its
 * file; its words are kept as a question that a person marks.
 */

import { XMLParser } from "fast-xml-parser";
import { isArchive, openArchive } from "../../../formats/archive.ts";
import { blankQuiz, type Question, type Quiz } from "../../../plan/questions.ts";
import { asMarkup } from "../../../text/rich-text.ts";
import { decodeMarkup } from "../cartridge/xml.ts";

/** An element with its attributes, and what stands in it in order; a text has no name. */
interface Element {
  name: string;
  attributes: Record<string, string>;
  inner: Element[];
  text: string;
}
type Raw = Record<string, unknown>;

const parser = new XMLParser({
  preserveOrder: true,
  ignoreAttributes: false,
  attributeNamePrefix: "",
  removeNSPrefix: true,
  trimValues: false,
  parseTagValue: false,
  parseAttributeValue: false,
  // A package is somebody else's text: no entity of its own is expanded without end.
  processEntities: { enabled: true, maxTotalExpansions: 100_000 } as never,
  htmlEntities: true,
});

function elementOf(raw: Raw): Element {
  if ("#text" in raw) return { name: "", attributes: {}, inner: [], text: String(raw["#text"]) };
  const name = Object.keys(raw).find((key) => key !== ":@") ?? "";
  return {
    name,
    attributes: (raw[":@"] as Record<string, string> | undefined) ?? {},
    inner: ((raw[name] as Raw[]) ?? []).map(elementOf),
    text: "",
  };
}
const rootOf = (xml: string): Element | null =>
  (parser.parse(xml) as Raw[]).map(elementOf).find(({ name }) => name !== "" && !name.startsWith("?")) ?? null;

const children = ({ inner }: Element, name: string): Element[] => inner.filter((one) => one.name === name);
const within = (element: Element, name: string): Element[] =>
  element.inner.flatMap((one) => [...(one.name === name ? [one] : []), ...within(one, name)]);
const wordsOf = ({ inner, text }: Element): string => (inner.length > 0 ? inner.map(wordsOf).join("") : text);
const tidy = (text: string): string => text.replace(/\s+/g, " ").trim();

const isInteraction = ({ name }: Element): boolean => /Interaction$/.test(name);
/** What stands in the body beside what is asked with, as HTML; the prompt of an interaction is part of it. */
function htmlOf(element: Element): string {
  if (element.name === "") return asMarkup(element.text);
  if (isInteraction(element))
    return children(element, "prompt")
      .map((one) => `<p>${one.inner.map(htmlOf).join("")}</p>`)
      .join("");
  const inner = element.inner.map(htmlOf).join("");
  if (/^(itemBody|div|span|rubricBlock)$/.test(element.name)) return inner;
  // A paragraph that held a field alone is none.
  if (element.name === "p" && tidy(inner) === "") return "";
  const source = element.name === "img" ? ` src="${asMarkup(element.attributes.src ?? "")}"` : "";
  return /^(br|hr|img)$/.test(element.name)
    ? `<${element.name}${source}>`
    : `<${element.name}>${inner}</${element.name}>`;
}

export interface ReadQti {
  quiz: Quiz;
  /** What a test says before its questions, as HTML. */
  body: string;
  /** Files of the items that it holds. */
  paths: string[];
  troubles: { place: string; says: string }[];
}
interface Reading {
  place: string;
  newId(): string;
  troubles: ReadQti["troubles"];
}

/** How a response is declared: what is right, and what each answer is worth. */
function declared(item: Element, identifier: string) {
  const found = children(item, "responseDeclaration").find((one) => one.attributes.identifier === identifier);
  const right = found
    ? children(found, "correctResponse")
        .flatMap((one) => children(one, "value"))
        .map(wordsOf)
    : [];
  const mapped = (found ? within(found, "mapEntry") : []).map(({ attributes }) => ({
    key: attributes.mapKey ?? "",
    value: Number(attributes.mappedValue ?? 0),
    caseCounts: attributes.caseSensitive !== "false",
  }));
  return {
    right,
    mapped,
    baseType: found?.attributes.baseType ?? "",
    cardinality: found?.attributes.cardinality ?? "",
  };
}
type Declared = ReturnType<typeof declared>;

/** The most that an item earns: as it says, by what its answers are worth, or 1. */
function pointsOf(item: Element, { mapped }: Declared): number {
  const said = children(item, "outcomeDeclaration").find(({ attributes }) => attributes.identifier === "MAXSCORE");
  const most = said
    ? Number(wordsOf(within(said, "value")[0] ?? { name: "", attributes: {}, inner: [], text: "" }))
    : Number.NaN;
  if (Number.isFinite(most)) return most;
  const values = mapped.map(({ value }) => value).filter((value) => value > 0);
  return values.length > 0 ? values.reduce((sum, value) => sum + value, 0) : 1;
}

type Common = Pick<Question, "id" | "text" | "points">;

function readChoices(interaction: Element, common: Common, is: Declared, { newId }: Reading): Question | null {
  const found = within(interaction, "simpleChoice").map((one) => ({
    key: one.attributes.identifier ?? "",
    choice: { id: newId(), text: tidy(wordsOf(one)) || "(a picture)" },
  }));
  if (found.length < 2) return null;
  const choices = found.map(({ choice }) => choice);
  const keys = is.right.length > 0 ? is.right : is.mapped.flatMap(({ key, value }) => (value > 0 ? [key] : []));
  const right = found.flatMap(({ key, choice }) => (keys.includes(key) ? [choice.id] : []));
  if (interaction.attributes.maxChoices === "1" && right.length === 1)
    return { ...common, kind: "one", choices, right: right[0] as string };
  if (is.cardinality === "single" && right.length !== 1) return null;
  return { ...common, kind: "several", choices, right, partial: is.mapped.length > 0 };
}

function readEntry(item: Element, interaction: Element, common: Common, is: Declared): Question | null {
  if (is.baseType === "float" || is.baseType === "integer") {
    const right = Number(is.right[0] ?? Number.NaN);
    if (!Number.isFinite(right)) return null;
    const equal = within(item, "equal")[0]?.attributes ?? {};
    const amount = Number((equal.tolerance ?? "0").split(/\s+/)[0]);
    const tolerance = { amount: Number.isFinite(amount) ? amount : 0, relative: equal.toleranceMode === "relative" };
    return {
      ...common,
      kind: "number",
      right,
      tolerance,
      unit: interaction.attributes.placeholderText ?? "",
      withoutUnit: 0,
    };
  }
  // Of a question that is worth nothing every answer that is named is one that is accepted.
  const mapped = is.mapped.filter(({ value }) => value > 0 || common.points === 0);
  const accepted = [
    ...new Set([...mapped.map(({ key }) => key), ...is.right].map((one) => one.trim()).filter(Boolean)),
  ];
  if (accepted.length === 0) return null;
  const caseCounts = mapped.length === 0 || mapped.some((one) => one.caseCounts);
  return { ...common, kind: "short", accepted, caseCounts, blanksCount: false };
}

function questionIn(item: Element, reading: Reading): Question {
  const [body] = children(item, "itemBody");
  const interactions = body ? everyInteraction(body) : [];
  const [interaction] = interactions;
  const is = declared(item, interaction?.attributes.responseIdentifier ?? "RESPONSE");
  const text = (body ? htmlOf(body).trim() : "") || asMarkup(item.attributes.title ?? "A question");
  const common = { id: reading.newId(), text, points: pointsOf(item, is) };
  const read = interaction && interactions.length === 1 ? readOne(item, interaction, common, is, reading) : null;
  if (read) return read;
  const how = interactions.map(({ name }) => name).join(", ") || "nothing";
  const says = `It asks by ${how} in a way that is not known here: its words are kept, and a person marks it.`;
  reading.troubles.push({ place: reading.place, says });
  return { ...common, kind: "long" };
}
const everyInteraction = (element: Element): Element[] =>
  element.inner.flatMap((one) => (isInteraction(one) ? [one] : everyInteraction(one)));

function readOne(item: Element, interaction: Element, common: Common, is: Declared, reading: Reading): Question | null {
  if (interaction.name === "choiceInteraction") return readChoices(interaction, common, is, reading);
  if (interaction.name === "textEntryInteraction") return readEntry(item, interaction, common, is);
  if (interaction.name === "extendedTextInteraction") return { ...common, kind: "long" };
  return interaction.name === "uploadInteraction" ? { ...common, kind: "file" } : null;
}

/** A package unpacks to no more bytes than this. */
const mostUnpacked = 50_000_000;
const joined = (folder: string, href: string): string => {
  const path: string[] = [];
  for (const step of `${folder}${decodeURIComponent(href)}`.split("/"))
    if (step === "..") path.pop();
    else if (step !== "." && step !== "") path.push(step);
  return path.join("/");
};

/** Files that are XML, read when they are asked for; null where one is not there. Throws where one is broken. */
function rootsOf(files: Record<string, Uint8Array>): (path: string) => Element | null {
  const read = new Map<string, Element | null>();
  return (path) => {
    const content = files[path];
    if (!read.has(path)) read.set(path, content ? rootOf(decodeMarkup(content)) : null);
    return read.get(path) ?? null;
  };
}

/** The questions of a file: an item, or a package of items. */
export function readQti(bytes: Uint8Array, name: string, newId: () => string): ReadQti | string {
  const opened = isArchive(bytes) ? openArchive(name, bytes, mostUnpacked) : { [name]: bytes };
  if ("unreadable" in opened) return opened.sentence as string;
  const files = opened as Record<string, Uint8Array>;
  const paths = Object.keys(files).filter((path) => /\.xml$/i.test(path) || path === name);
  const rootAt = rootsOf(files);
  try {
    const test = paths.find((path) => rootAt(path)?.name === "assessmentTest");
    const items = paths.filter((path) => rootAt(path)?.name === "assessmentItem");
    if (items.length === 0) return `${name} holds no question: no assessmentItem of IMS QTI 2 is in it.`;
    return quizOf(rootAt, test === undefined ? items : [test], newId);
  } catch {
    return `${name} cannot be read: it is neither XML nor a package of it, or it is broken.`;
  }
}

/**
 * The quiz that one file of an archive is: a test with the items that it names, or an item alone. A sentence where it is
 * neither.
 */
export function quizAt(files: Record<string, Uint8Array>, path: string, newId: () => string): ReadQti | string {
  try {
    const rootAt = rootsOf(files);
    if (!/^assessment(Test|Item)$/.test(rootAt(path)?.name ?? "")) return `${path} is no test or item of IMS QTI 2.1`;
    return quizOf(rootAt, [path], newId);
  } catch {
    return `its file ${path} cannot be read`;
  }
}

/** A quiz of a test, or of items in their order. */
function quizOf(rootAt: (path: string) => Element | null, start: string[], newId: () => string): ReadQti {
  const found: ReadQti = { quiz: blankQuiz, body: "", troubles: [], paths: [] };
  const read = (path: string): Question[] => {
    found.paths.push(path);
    const item = rootAt(path);
    if (item?.name === "assessmentItem") return [questionIn(item, { place: path, newId, troubles: found.troubles })];
    found.troubles.push({ place: path, says: "The test names it, and it is not in the package." });
    return [];
  };
  const [path = ""] = start;
  const root = rootAt(path);
  const isTest = root?.name === "assessmentTest";
  if (isTest) found.body = within(root, "rubricBlock").map(htmlOf).join("").trim();
  const parts = isTest ? partsOf([path, root], read, newId) : [{ ...part(newId()), questions: start.flatMap(read) }];
  found.quiz = { ...blankQuiz, parts: parts.filter(({ questions }) => questions.length > 0) };
  return found;
}

const part = (id: string): Quiz["parts"][number] => ({ id, title: "", draw: null, mixed: false, questions: [] });

function partsOf(
  [path, test]: [string, Element],
  read: (path: string) => Question[],
  newId: () => string,
): Quiz["parts"] {
  const folder = path.slice(0, path.lastIndexOf("/") + 1);
  const sections = within(test, "assessmentSection").filter((one) => children(one, "assessmentItemRef").length > 0);
  return sections.map((section) => {
    const questions = children(section, "assessmentItemRef").flatMap(({ attributes }) =>
      read(joined(folder, attributes.href ?? "")),
    );
    const select = Number(children(section, "selection")[0]?.attributes.select ?? Number.NaN);
    const same = new Set(questions.map(({ points }) => points)).size <= 1;
    const draw = Number.isInteger(select) && select > 0 && select <= questions.length && same ? select : null;
    const mixed = children(section, "ordering")[0]?.attributes.shuffle === "true";
    return { ...part(newId()), title: (section.attributes.title ?? "").slice(0, 200), draw, mixed, questions };
  });
}
