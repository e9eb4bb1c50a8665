/**
 * One resource of a Common Cartridge (1EdTech, 1.0 to 1.3, its assignment extension, and tests and items of IMS QTI 2.1) as
 * what an item holds.
 */

import { fileTrouble, plainName } from "../../../formats/stored-files.ts";
import { possibleIn, type Quiz, quizFault } from "../../../plan/questions.ts";
import { sayNumber } from "../../../text/locale.ts";
import { notKept } from "../../../text/rich-text.ts";
import { quizAt } from "../qti/read.ts";
import { folderOf, pathOf } from "./paths.ts";
import { attributeOf, childOf, decodeMarkup, listOf, type Node, parseXml, textOf } from "./xml.ts";

/** An item as an archive has it, before it is one of a plan. */
export interface CartridgeItem {
  kind: "folder" | "page" | "file" | "link" | "discussion" | "assignment" | "quiz";
  title: string;
  /**
   * HTML of a page, topic or assignment, the address of a link. A link into the archive reads `cartridge:PATH`, until it is
   * known where that file stands in the course.
   */
  body: string;
  points: number | null;
  /** Null of all but a quiz. */
  quiz: Quiz | null;
  /** The bytes of a file, with its name. */
  file: { name: string; bytes: Uint8Array } | null;
  /** Its path in the archive; null where it has none. */
  path: string | null;
  children: CartridgeItem[];
}

/** What an item of a plan holds at most. */
const longestBody = 100_000;

export interface Archive {
  /** By path. */
  files: Record<string, Uint8Array>;
  /** The folder of the manifest. */
  root: string;
  /** Makes the ids of questions and choices. */
  newId(): string;
}

export const blank = (title: string): CartridgeItem => ({
  kind: "folder",
  title,
  body: "",
  points: null,
  quiz: null,
  file: null,
  path: null,
  children: [],
});

const bodyOf = (html: string): string => (/<body[^>]*>([\s\S]*)<\/body>/i.exec(html)?.[1] ?? html).trim();

/**
 * HTML whose links into the archive name a path. Pictures become links to their files: a text here holds none. A link to
 * what the archive does not hold is told.
 */
function linked(html: string, folder: string, { files, root }: Archive, missing: Set<string>): string {
  const lead = (name: string): string => {
    const plain = name.replaceAll("&amp;", "&");
    const path = pathOf(plain, folder, files, root);
    if (path !== null) return `cartridge:${path}`;
    if (/^\$IMS-CC-FILEBASE\$/i.test(plain)) missing.add(plain);
    return name;
  };
  return html
    .replace(/<img\b[^>]*>/gi, (tag) => {
      const src = /\bsrc\s*=\s*["']([^"']*)["']/i.exec(tag)?.[1] ?? "";
      const says = /\balt\s*=\s*["']([^"']*)["']/i.exec(tag)?.[1] || plainName(src);
      return `<a href="${src}">${says}</a>`;
    })
    .replace(
      /\b(href|src)\s*=\s*(["'])(.*?)\2/gi,
      (_, name: string, quote: string, to: string) => `${name}=${quote}${lead(to)}${quote}`,
    );
}

/** The attachments of a topic or an assignment, as links behind its text. */
const attachmentsOf = (node: Node | undefined): string =>
  listOf(childOf(node, "attachments")?.attachment)
    .map((one) => attributeOf(one, "href"))
    .filter((href) => href !== "")
    .map((href) => `<p><a href="${href}">${plainName(href)}</a></p>`)
    .join("");

interface Found {
  item: CartridgeItem;
  /** Names that its text has and the archive does not hold. */
  missing: string[];
  /** What its text holds and a text here does not. */
  lost: string[];
  /** What of its questions is taken otherwise, each with why. */
  told: string[];
  /** Other files that it consists of. */
  parts: string[];
}

/** A test of IMS QTI 2, or one of its items alone. */
export const isQti = (type: string): boolean => /^imsqti_(test|item)_xmlv2/i.test(type);

/** A resource's item, or why it cannot be taken. `href`: the path of its file; never throws. */
export function readResource(type: string, path: string, title: string, archive: Archive): Found | string {
  const bytes = archive.files[path];
  if (!bytes) return `its file ${path || "(none)"} is not in the archive`;
  const missing = new Set<string>();
  const html = (text: string): string => linked(text, folderOf(path), archive, missing);
  try {
    const questions = isQti(type) ? quizIn(path, archive, html) : null;
    const held = questions?.held ?? heldBy(type.toLowerCase(), path, bytes, html);
    const item = { ...blank(title), path, ...held };
    const { told = [], parts = [] } = questions ?? {};
    if (item.kind === "link" && item.body === "") return "its address is missing";
    if (item.body.length > longestBody)
      return `its text has ${sayNumber(item.body.length)} characters; 100,000 is the most`;
    return { item, missing: [...missing], lost: item.kind === "link" ? [] : notKept(item.body), told, parts };
  } catch (error) {
    return error instanceof Refused ? error.message : `its file ${path} cannot be read`;
  }
}

class Refused extends Error {}

/** The quiz of a test or an item, with what is told of it. */
function quizIn(path: string, { files, newId }: Archive, html: (text: string) => string) {
  const found = quizAt(files, path, newId);
  if (typeof found === "string") throw new Refused(found);
  const { quiz, body, troubles, paths } = found;
  const fault = quizFault(quiz);
  if (fault) throw new Refused(fault);
  const held: Partial<CartridgeItem> = { kind: "quiz", quiz, body: html(body), points: possibleIn(quiz) };
  return { held, told: troubles.map(({ place, says }) => `${place}: ${says}`), parts: paths };
}

function heldBy(type: string, path: string, bytes: Uint8Array, html: (text: string) => string): Partial<CartridgeItem> {
  if (type.startsWith("imswl")) {
    const link = childOf(parseXml(bytes), "webLink");
    return { kind: "link", body: attributeOf(childOf(link, "url"), "href").trim() };
  }
  if (type.startsWith("imsdt")) {
    const topic = childOf(parseXml(bytes), "topic");
    return { kind: "discussion", body: html(textOf(topic?.text) + attachmentsOf(topic)) };
  }
  if (type.startsWith("assignment")) {
    const work = childOf(parseXml(bytes), "assignment");
    const gradable = childOf(work, "gradable");
    const possible = Number(attributeOf(gradable, "points_possible") || Number.NaN);
    const isGraded = textOf(work?.gradable).trim() !== "false" && Number.isFinite(possible) && possible >= 0;
    return {
      kind: "assignment",
      body: html(textOf(work?.text) + textOf(work?.instructor_text) + attachmentsOf(work)),
      points: isGraded ? possible : null,
    };
  }
  if (type === "webcontent" && /\.x?html?$/i.test(path))
    return { kind: "page", body: html(bodyOf(decodeMarkup(bytes))) };
  if (type === "webcontent" || type.startsWith("associatedcontent")) {
    const name = plainName(path);
    const trouble = fileTrouble(name, bytes.length);
    if (trouble) throw new Refused(trouble);
    return { kind: "file", file: { name, bytes } };
  }
  throw new Refused(`${saysType(type)} is not taken`);
}

const types: [RegExp, string][] = [
  [/^imsqti/, "a test in QTI 1"],
  [/^imsbasiclti/, "a link to an external tool (LTI)"],
];
const saysType = (type: string): string =>
  types.find(([pattern]) => pattern.test(type))?.[1] ?? (type.split("_")[0] || "this kind of content");
