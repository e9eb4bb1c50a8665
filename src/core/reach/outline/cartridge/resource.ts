/** One resource of a Common Cartridge (1EdTech, 1.0 to 1.3, and its assignment extension) as what an item holds. */

import { fileTrouble, plainName } from "../../../formats/stored-files.ts";
import { sayNumber } from "../../../text/locale.ts";
import { notKept } from "../../../text/rich-text.ts";
import { folderOf, pathOf } from "./paths.ts";
import { attributeOf, childOf, decodeMarkup, listOf, type Node, parseXml, textOf } from "./xml.ts";

/** An item as an archive has it, before it is one of a plan. */
export interface CartridgeItem {
  kind: "folder" | "page" | "file" | "link" | "discussion" | "assignment";
  title: string;
  /**
   * HTML of a page, topic or assignment, the address of a link. A link into the archive reads `cartridge:PATH`, until it is
   * known where that file stands in the course.
   */
  body: string;
  points: number | null;
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
}

export const blank = (title: string): CartridgeItem => ({
  kind: "folder",
  title,
  body: "",
  points: null,
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
}

/** A resource's item, or why it cannot be taken. `href`: the path of its file; never throws. */
export function readResource(type: string, path: string, title: string, archive: Archive): Found | string {
  const bytes = archive.files[path];
  if (!bytes) return `its file ${path || "(none)"} is not in the archive`;
  const missing = new Set<string>();
  const html = (text: string): string => linked(text, folderOf(path), archive, missing);
  try {
    const item = { ...blank(title), path, ...heldBy(type.toLowerCase(), path, bytes, html) };
    if (item.kind === "link" && item.body === "") return "its address is missing";
    if (item.body.length > longestBody)
      return `its text has ${sayNumber(item.body.length)} characters; 100,000 is the most`;
    return { item, missing: [...missing], lost: item.kind === "link" ? [] : notKept(item.body) };
  } catch (error) {
    return error instanceof Refused ? error.message : `its file ${path} cannot be read`;
  }
}

class Refused extends Error {}

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
  [/^imsqti/, "a test (QTI)"],
  [/^imsbasiclti/, "a link to an external tool (LTI)"],
];
const saysType = (type: string): string =>
  types.find(([pattern]) => pattern.test(type))?.[1] ?? (type.split("_")[0] || "this kind of content");
