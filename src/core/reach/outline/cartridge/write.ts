/**
 * Outlines as Common Cartridge 1.3 archives (an open standard of 1EdTech): the organisation tree, web content, web links,
 * discussion topics, assignments with their points by its extension, and quizzes as tests of IMS QTI 2.1. What the standards
 * have no words for is listed.
 */
import { XMLBuilder } from "fast-xml-parser";
import { strToU8, zipSync } from "fflate";
import { outlineOrder } from "../../../plan/lookup.ts";
import type { Item, Plan } from "../../../plan/types.ts";
import { qtiFiles, qtiTypes } from "../qti/write.ts";
import { asks } from "./unsaid.ts";

type Node = Record<string, unknown>;

const builder = new XMLBuilder({
  ignoreAttributes: false,
  attributeNamePrefix: "@",
  format: true,
  suppressEmptyNode: true,
});
const xml = (root: Node): Uint8Array => strToU8(`<?xml version="1.0" encoding="UTF-8"?>\n${builder.build(root)}`);
const namespace = (rest: string): string => `http://www.imsglobal.org/xsd/${rest}`;
const html = (text: string): Node => ({ "@texttype": "text/html", "#text": text });

/** The file of a resource: its type, path and bytes; and resources that it consists of. */
type Content = [type: string, path: string, bytes: Uint8Array, parts?: Content[]];

const contents: Partial<Record<Item["kind"], (item: Item, bytes: Uint8Array | undefined) => Content | null>> = {
  folder: () => null,
  link: ({ id, title, body }) => [
    "imswl_xmlv1p3",
    `links/${id}.xml`,
    xml({ webLink: { "@xmlns": namespace("imsccv1p3/imswl_v1p3"), title, url: { "@href": body.trim() } } }),
  ],
  discussion: ({ id, title, body }) => [
    "imsdt_xmlv1p3",
    `topics/${id}.xml`,
    xml({ topic: { "@xmlns": namespace("imsccv1p3/imsdt_v1p3"), title, text: html(body) } }),
  ],
  assignment: ({ id, title, body, points }) => [
    "assignment_xmlv1p0",
    `assignments/${id}.xml`,
    xml({
      assignment: {
        "@xmlns": namespace("imscc_extensions/assignment"),
        "@identifier": `a_${id}`,
        title,
        text: html(body),
        gradable: points === null ? "false" : { "@points_possible": String(points), "#text": "true" },
      },
    }),
  ],
  quiz: (item) => {
    if (!item.quiz || !asks(item)) return page(item);
    const { test, items } = qtiFiles(item.quiz, item.title, item.body);
    const parts = items.map(([name, text]): Content => [qtiTypes.item, `quizzes/${item.id}/${name}`, strToU8(text)]);
    return [qtiTypes.test, `quizzes/${item.id}/test.xml`, strToU8(test), parts];
  },
  file: ({ id, file }, bytes) => (file && bytes ? ["webcontent", `files/${id}/${file.name}`, bytes] : null),
};
const page = ({ id, body }: Item): Content => [
  "webcontent",
  `pages/${id}.html`,
  strToU8(`<!doctype html><html><head><meta charset="utf-8"><title></title></head><body>${body}</body></html>`),
];

/** The items of each folder, as the organisation has them; null: those at the top. */
function organised(plan: Plan, referenceOf: (item: Item) => string | null): Map<string | null, Node[]> {
  const nodes = new Map<string | null, Node[]>();
  // From the end, so that what lies in a folder is there before the folder.
  for (const { item } of outlineOrder(plan).reverse()) {
    const reference = referenceOf(item);
    if (reference === null && item.kind !== "folder") continue;
    const node: Node = {
      "@identifier": `i_${item.id}`,
      ...(reference ? { "@identifierref": reference } : {}),
      title: item.title,
      ...(item.kind === "folder" ? { item: nodes.get(item.id) ?? [] } : {}),
    };
    nodes.set(item.parentId, [node, ...(nodes.get(item.parentId) ?? [])]);
  }
  return nodes;
}

/** The outline as an archive. `fileOf` gives the bytes of stored files; events, and quizzes without questions, go out as pages of their text. */
export function writeCartridge(plan: Plan, fileOf: ReadonlyMap<string, Uint8Array>): Uint8Array {
  const files: Record<string, Uint8Array> = {};
  const resources: Node[] = [];
  const add = (id: string, [type, path, bytes, parts = []]: Content): string => {
    const partIds = parts.map((part, at) => add(`${id}_${at + 1}`, part));
    files[path] = bytes;
    // A name in an address: percent signs and spaces are escaped, slashes divide folders.
    const href = path.split("/").map(encodeURIComponent).join("/");
    const dependency = partIds.map((one) => ({ "@identifierref": one }));
    resources.push({
      ...{ "@identifier": id, "@type": type, "@href": href, file: { "@href": href } },
      ...(dependency.length > 0 ? { dependency } : {}),
    });
    return id;
  };
  const nodes = organised(plan, (item) => {
    const content = (contents[item.kind] ?? page)(item, fileOf.get(item.file?.id ?? ""));
    return content && add(`r_${item.id}`, content);
  });
  files["imsmanifest.xml"] = xml({
    manifest: {
      "@identifier": `m_${plan.course.id}`,
      "@xmlns": namespace("imsccv1p3/imscp_v1p1"),
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
