/** The XML of an archive: each file in the encoding that it says, and every text as text. */
import { XMLParser } from "fast-xml-parser";

export type Node = Record<string, unknown>;

const parser = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: "@",
  removeNSPrefix: true,
  // A title such as 007 or 1.10 is no number.
  parseTagValue: false,
  parseAttributeValue: false,
  htmlEntities: true,
  isArray: (name) => ["item", "resource", "file", "dependency", "attachment", "format"].includes(name),
  // An archive is somebody else's text: no entity of its own is expanded without end.
  processEntities: { enabled: true, maxTotalExpansions: 100_000 } as never,
});

/** Bytes as text: by their mark, or by what the text says of itself in its first words. */
export function decodeMarkup(bytes: Uint8Array): string {
  const mark =
    bytes[0] === 0xff && bytes[1] === 0xfe ? "utf-16le" : bytes[0] === 0xfe && bytes[1] === 0xff ? "utf-16be" : null;
  if (mark) return new TextDecoder(mark).decode(bytes);
  const head = new TextDecoder("latin1").decode(bytes.subarray(0, 1024));
  const said =
    /^\s*<\?xml[^>]*encoding\s*=\s*["']([\w.:-]+)["']/i.exec(head)?.[1] ??
    /<meta[^>]*charset\s*=\s*["']?([\w.:-]+)/i.exec(head)?.[1];
  try {
    return new TextDecoder(said ?? "utf-8").decode(bytes);
  } catch {
    return new TextDecoder().decode(bytes);
  }
}

/** A file's root by name; fails where it is no XML. */
export const parseXml = (bytes: Uint8Array): Node => parser.parse(decodeMarkup(bytes)) as Node;

export const listOf = (value: unknown): Node[] =>
  (Array.isArray(value) ? value : value === undefined ? [] : [value]) as Node[];
export const childOf = (node: Node | undefined, name: string): Node | undefined => {
  const value = node?.[name];
  return typeof value === "object" && value !== null ? (listOf(value)[0] as Node) : undefined;
};
export const textOf = (value: unknown): string =>
  typeof value === "object" && value !== null
    ? textOf(Array.isArray(value) ? value[0] : (value as Node)["#text"])
    : value === undefined
      ? ""
      : String(value);
export const attributeOf = (node: Node | undefined, name: string): string => textOf(node?.[`@${name}`]);
