/**
 * Outlines out of Common Cartridge archives (an open standard of 1EdTech): the organisation tree with what it holds, and
 * the files beside it. What cannot be taken is told, part by part; the rest comes in.
 */

import { v7 } from "uuid";
import { isArchive, openArchive } from "../../../formats/archive.ts";
import { cut } from "../../../text/shorten.ts";
import { folderOf, pathOf } from "./paths.ts";
import { type Archive, blank, type CartridgeItem, isQti, readResource } from "./resource.ts";
import { attributeOf, childOf, listOf, type Node, parseXml, textOf } from "./xml.ts";

export interface Cartridge {
  title: string;
  items: CartridgeItem[];
  /** What could not be taken, each with why. */
  left: string[];
}

/** Where files go that no item of the outline names. */
const besideTitle = "Other files of the archive";
const mostTitle = 200;

/** A folder that `xml:base` adds, each relative to the one around it. */
const based = (base: string, node: Node | undefined): string => {
  const own = attributeOf(node, "base");
  return own === "" ? base : `${base}${own.endsWith("/") ? own : folderOf(own)}`;
};

interface Resource {
  type: string;
  /** The path of its main file, as far as it is in the archive, else as the manifest names it. */
  path: string;
  /** Paths of all of its files. */
  files: string[];
}

const isItem = ({ type }: Resource): boolean => isQti(type) && /item/i.test(type);

class Reading {
  readonly left: string[] = [];
  readonly resources: Map<string, Resource>;
  private readonly taken = new Set<string>();
  constructor(
    private readonly archive: Archive,
    manifest: Node,
  ) {
    const all = childOf(manifest, "resources");
    const base = based(based(archive.root, manifest), all);
    this.resources = new Map(
      listOf(all?.resource).map((node) => [attributeOf(node, "identifier"), this.resourceOf(node, base)]),
    );
  }

  private resourceOf(node: Node, base: string): Resource {
    const folder = based(base, node);
    const { files, root } = this.archive;
    const found = (href: string) => pathOf(href, folder, files, root) ?? folder + href;
    const names = listOf(node.file).map((one) => attributeOf(one, "href"));
    const href = attributeOf(node, "href") || (names[0] ?? "");
    return {
      type: attributeOf(node, "type"),
      path: href === "" ? "" : found(href),
      files: names.map(found),
    };
  }

  private take(id: string, title: string): CartridgeItem | null {
    const resource = this.resources.get(id);
    if (!resource) {
      this.left.push(`${title}: the archive does not hold what it names`);
      return null;
    }
    this.taken.add(resource.path);
    return this.read(resource.type, resource.path, title);
  }

  /** What a file of some type holds; what of it is not taken is told. */
  private read(type: string, path: string, title: string): CartridgeItem | null {
    const read = readResource(type, path, title, this.archive);
    if (typeof read === "string") {
      this.left.push(`${title}: ${read}`);
      return null;
    }
    for (const part of read.parts) this.taken.add(part);
    for (const says of read.told) this.left.push(`${title}: ${says}`);
    for (const name of read.missing) this.left.push(`${title}: it links to ${name}, which is not in the archive`);
    if (read.lost.length > 0) this.left.push(`${title}: of its text is not kept: ${read.lost.join(", ")}`);
    return read.item;
  }

  /** An item of the organisation. One that has something of its own and more beneath becomes a folder that begins with it. */
  readItem(node: Node): CartridgeItem[] {
    const title = cut(textOf(node.title).trim().replace(/\s+/g, " "), mostTitle) || "Untitled";
    const children = listOf(node.item);
    const reference = attributeOf(node, "identifierref");
    const own = reference === "" ? null : this.take(reference, title);
    if (reference !== "" && children.length === 0) return own ? [own] : [];
    return [{ ...blank(title), children: [...(own ? [own] : []), ...children.flatMap((one) => this.readItem(one))] }];
  }

  /** Files of a resource that no item names. What belongs to a page are its pictures and papers; of others the main file counts. */
  private besideOf({ type, path, files }: Resource): string[] {
    const isWeb = /^(webcontent|associatedcontent)/i.test(type) || this.taken.has(path);
    return [...new Set([path, ...(isWeb ? files : [])])].filter((one) => one !== "" && !this.taken.has(one));
  }

  /** Files that no item names: those of resources beside the outline, and what its own resources bring with them. */
  beside(): CartridgeItem[] {
    const found = new Map<string, CartridgeItem>();
    // Tests before their items: what belongs to one is nothing beside it.
    const all = [...this.resources.values()].sort((a, b) => Number(isItem(a)) - Number(isItem(b)));
    for (const resource of all)
      for (const one of this.besideOf(resource)) {
        if (found.has(one)) continue;
        const name = one.slice(one.lastIndexOf("/") + 1);
        const type = one === resource.path ? resource.type : "webcontent";
        const item = this.read(type, one, cut(name, mostTitle));
        if (item) found.set(one, item);
      }
    return [...found.values()];
  }
}

function titleOf(manifest: Node): string {
  const general = childOf(childOf(childOf(manifest, "metadata"), "lom"), "general");
  return textOf(childOf(general, "title")?.string).trim() || "Outline";
}

/** The outline of an archive; a sentence where it is none. Never throws. */
export function readCartridge(
  bytes: Uint8Array,
  name = "The file",
  newId: () => string = v7,
): Cartridge | { trouble: string } {
  if (!isArchive(bytes))
    return {
      trouble: `${name} is no archive that can be opened. Export it again as a Common Cartridge, ending in .imscc or .zip.`,
    };
  const files = openArchive(name, bytes);
  if ("unreadable" in files) return { trouble: String((files as { sentence?: unknown }).sentence) };
  const path = Object.keys(files)
    .filter((name) => /(^|\/)imsmanifest\.xml$/i.test(name))
    .sort((a, b) => a.length - b.length)[0];
  if (path === undefined)
    return { trouble: "The archive holds no imsmanifest.xml, so it is no Common Cartridge. Export it again as one." };
  let manifest: Node | undefined;
  try {
    manifest = childOf(parseXml(files[path] as Uint8Array), "manifest");
  } catch (error) {
    return {
      trouble: `imsmanifest.xml cannot be read: ${error instanceof Error ? error.message : error}. Export the archive again.`,
    };
  }
  if (!manifest)
    return { trouble: "imsmanifest.xml holds no manifest. Export the archive again as a Common Cartridge." };
  const reading = new Reading({ files, root: folderOf(path), newId }, manifest);
  const organization = childOf(childOf(manifest, "organizations"), "organization");
  // The one item at the top is the organisation itself, without a title.
  const roots = listOf(organization?.item).flatMap((node) => (textOf(node.title) === "" ? listOf(node.item) : [node]));
  const items = roots.flatMap((node) => reading.readItem(node));
  const beside = reading.beside();
  if (beside.length > 0) items.push({ ...blank(besideTitle), children: beside });
  return { title: titleOf(manifest), items, left: reading.left };
}
