/**
 * Outlines as Common Cartridge 1.3 archives (an open standard of 1EdTech): the organisation tree, web content, web links
 * and discussion topics. What else an archive holds is told, not dropped in silence.
 */
import { XMLBuilder, XMLParser } from "fast-xml-parser";
import { strFromU8, strToU8, unzipSync, zipSync } from "fflate";
import { plainName, typeOf } from "../../formats/stored-files.ts";
import { outlineOrder } from "../../plan/lookup.ts";
import type { Item, Plan } from "../../plan/types.ts";

/** An item as an archive has it, before it is one of a plan. */
export interface CartridgeItem {
  kind: "folder" | "page" | "file" | "link" | "discussion";
  title: string;
  /** HTML of a page or topic, the address of a link. */
  body: string;
  /** The bytes of a file, with its name. */
  file: { name: string; bytes: Uint8Array } | null;
  children: CartridgeItem[];
}
export interface Cartridge {
  title: string;
  items: CartridgeItem[];
  /** What could not be taken, each with why. */
  left: string[];
}

/** What an item of a plan holds at most. */
const longestBody = 100_000;

type Node = Record<string, unknown>;
const parser = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: "@",
  removeNSPrefix: true,
  isArray: (name) => ["item", "resource", "file"].includes(name),
  // An archive is somebody else's text: no entity of its own is expanded.
  processEntities: { enabled: true, maxTotalExpansions: 100_000 } as never,
});

const list = (value: unknown): Node[] => (Array.isArray(value) ? value : value === undefined ? [] : [value]) as Node[];
const text = (value: unknown): string =>
  typeof value === "object" && value !== null
    ? text((value as Node)["#text"])
    : value === undefined
      ? ""
      : String(value);
const attribute = (node: Node, name: string): string => text(node[`@${name}`]);

/** The outline of an archive; a sentence where it is none. */
export function readCartridge(bytes: Uint8Array): Cartridge | { trouble: string } {
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(bytes);
  } catch {
    return {
      trouble:
        "This is no archive that can be opened. Export it again as a Common Cartridge, ending in .imscc or .zip.",
    };
  }
  const path = Object.keys(files).find((name) => /(^|\/)imsmanifest\.xml$/i.test(name));
  if (!path)
    return { trouble: "The archive holds no imsmanifest.xml, so it is no Common Cartridge. Export it again as one." };
  let manifest: Node;
  try {
    manifest = (parser.parse(strFromU8(files[path] as Uint8Array)) as Node).manifest as Node;
  } catch (error) {
    return {
      trouble: `imsmanifest.xml cannot be read: ${error instanceof Error ? error.message : error}. Export the archive again.`,
    };
  }
  if (!manifest)
    return { trouble: "imsmanifest.xml holds no manifest. Export the archive again as a Common Cartridge." };
  const base = path.slice(0, path.length - "imsmanifest.xml".length);
  const resources = new Map(
    list((manifest.resources as Node | undefined)?.resource).map((node) => [attribute(node, "identifier"), node]),
  );
  const left: string[] = [];
  const contentOf = (href: string): Uint8Array | undefined =>
    files[base + decodeURIComponent(href)] ?? files[base + href];
  const organization = (manifest.organizations as Node | undefined)?.organization as Node | undefined;
  // The one item at the top is the organisation itself, without a title.
  const roots = list(organization?.item).flatMap((node) => (text(node.title) === "" ? list(node.item) : [node]));

  const readItem = (node: Node): CartridgeItem[] => {
    const title = text(node.title).trim().slice(0, 200) || "Untitled";
    const reference = attribute(node, "identifierref");
    if (reference === "")
      return [{ kind: "folder", title, body: "", file: null, children: list(node.item).flatMap(readItem) }];
    const resource = resources.get(reference);
    if (!resource) {
      left.push(`${title}: the archive does not hold what it names`);
      return [];
    }
    const read = readResource(resource, title, contentOf);
    if (typeof read !== "string" && read.body.length > longestBody) {
      left.push(`${title}: its text has ${read.body.length.toLocaleString("en-GB")} characters; 100,000 is the most`);
      return [];
    }
    if (typeof read === "string") {
      left.push(`${title}: ${read}`);
      return [];
    }
    return [read];
  };
  const items = roots.flatMap(readItem);
  const metadata = manifest.metadata as Node | undefined;
  const general = (metadata?.lom as Node | undefined)?.general as Node | undefined;
  const title = text((general?.title as Node | undefined)?.string) || "Outline";
  return { title, items, left };
}

function readResource(
  resource: Node,
  title: string,
  contentOf: (href: string) => Uint8Array | undefined,
): CartridgeItem | string {
  const type = attribute(resource, "type").toLowerCase();
  const href = attribute(resource, "href") || attribute(list(resource.file)[0] ?? {}, "href");
  const bytes = contentOf(href);
  if (!bytes) return `its file ${href || "(none)"} is not in the archive`;
  const plain = { title, body: "", file: null, children: [] };
  if (type.startsWith("imswl")) {
    const link = (parser.parse(strFromU8(bytes)) as Node).webLink as Node | undefined;
    return { ...plain, kind: "link", body: attribute((link?.url as Node | undefined) ?? {}, "href") };
  }
  if (type.startsWith("imsdt")) {
    const topic = (parser.parse(strFromU8(bytes)) as Node).topic as Node | undefined;
    return { ...plain, kind: "discussion", body: text(topic?.text) };
  }
  if (type === "webcontent" && /\.x?html?$/i.test(href))
    return { ...plain, kind: "page", body: bodyOf(strFromU8(bytes)) };
  if (type === "webcontent" || type.startsWith("associatedcontent")) {
    const name = plainName(href);
    if (!typeOf(name)) return `files such as ${name} are not taken`;
    return { ...plain, kind: "file", file: { name, bytes } };
  }
  return `${type.split("_")[0] || "this kind of content"} is not taken`;
}

const bodyOf = (html: string): string => (/<body[^>]*>([\s\S]*)<\/body>/i.exec(html)?.[1] ?? html).trim();

const builder = new XMLBuilder({
  ignoreAttributes: false,
  attributeNamePrefix: "@",
  format: true,
  suppressEmptyNode: true,
});
const xml = (root: Node): Uint8Array => strToU8(`<?xml version="1.0" encoding="UTF-8"?>\n${builder.build(root)}`);
const cp = "http://www.imsglobal.org/xsd/imsccv1p3/imscp_v1p1";

/** The outline as an archive. `fileOf` gives the bytes of stored files; work and quizzes go out as pages of their text. */
export function writeCartridge(plan: Plan, fileOf: ReadonlyMap<string, Uint8Array>): Uint8Array {
  const files: Record<string, Uint8Array> = {};
  const resources: Node[] = [];
  const add = (id: string, type: string, href: string, bytes: Uint8Array) => {
    files[href] = bytes;
    resources.push({ "@identifier": id, "@type": type, "@href": href, file: { "@href": href } });
  };
  const written = (item: Item): string | null => {
    const id = `r_${item.id}`;
    if (item.kind === "folder") return null;
    if (item.kind === "link")
      add(
        id,
        "imswl_xmlv1p3",
        `links/${item.id}.xml`,
        xml({
          webLink: {
            "@xmlns": "http://www.imsglobal.org/xsd/imsccv1p3/imswl_v1p3",
            title: item.title,
            url: { "@href": item.body.trim() },
          },
        }),
      );
    else if (item.kind === "discussion")
      add(
        id,
        "imsdt_xmlv1p3",
        `topics/${item.id}.xml`,
        xml({
          topic: {
            "@xmlns": "http://www.imsglobal.org/xsd/imsccv1p3/imsdt_v1p3",
            title: item.title,
            text: { "@texttype": "text/html", "#text": item.body },
          },
        }),
      );
    else if (item.kind === "file") {
      const bytes = item.file && fileOf.get(item.file.id);
      if (!bytes || !item.file) return null;
      add(id, "webcontent", `files/${item.id}/${item.file.name}`, bytes);
    } else
      add(
        id,
        "webcontent",
        `pages/${item.id}.html`,
        strToU8(
          `<!doctype html><html><head><meta charset="utf-8"><title></title></head><body>${item.body}</body></html>`,
        ),
      );
    return id;
  };
  const nodes = new Map<string | null, Node[]>();
  const order = outlineOrder(plan);
  // From the end, so that what lies in a folder is there before the folder.
  for (const { item } of [...order].reverse()) {
    const reference = written(item);
    if (reference === null && item.kind !== "folder") continue;
    const node: Node = {
      "@identifier": `i_${item.id}`,
      ...(reference ? { "@identifierref": reference } : {}),
      title: item.title,
      ...(item.kind === "folder" ? { item: nodes.get(item.id) ?? [] } : {}),
    };
    nodes.set(item.parentId, [node, ...(nodes.get(item.parentId) ?? [])]);
  }
  files["imsmanifest.xml"] = xml({
    manifest: {
      "@identifier": `m_${plan.course.id}`,
      "@xmlns": cp,
      metadata: {
        schema: "IMS Common Cartridge",
        schemaversion: "1.3.0",
        "lomimscc:lom": {
          "@xmlns:lomimscc": "http://ltsc.ieee.org/xsd/imsccv1p3/LOM/manifest",
          "lomimscc:general": { "lomimscc:title": { "lomimscc:string": plan.course.title } },
        },
      },
      organizations: {
        organization: {
          "@identifier": "outline",
          "@structure": "rooted-hierarchy",
          item: { "@identifier": "root", item: nodes.get(null) ?? [] },
        },
      },
      resources: { resource: resources.reverse() },
    },
  });
  return zipSync(files);
}
