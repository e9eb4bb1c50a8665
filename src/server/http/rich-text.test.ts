/** Nothing that the editor can make is lost on the way to a student, into an archive and back. */
import { getSchema, type JSONContent } from "@tiptap/core";
import { Node as DocumentNode, type Schema } from "@tiptap/pm/model";
import { renderToHTMLString } from "@tiptap/static-renderer/pm/html-string";
import fc from "fast-check";
import { expect, test } from "vitest";
import { type Cartridge, readCartridge } from "../../core/reach/outline/cartridge/read.ts";
import { writeCartridge } from "../../core/reach/outline/cartridge/write.ts";
import { addItem, coursePlan } from "../../core/tests/fixture.ts";
import { notKept } from "../../core/text/rich-text.ts";
import { richExtensions } from "../../interface/kit/rich-extensions.ts";
import { safeHtml } from "./safe-html.ts";

const schema: Schema = getSchema(richExtensions);
type Json = JSONContent;
const mark = fc.constantFrom(
  ...["bold", "italic", "underline", "strike", "code"].map((type) => ({ type })),
  { type: "link", attrs: { href: "https://x.example/?a=1&b=2" } },
  { type: "link", attrs: { href: "mailto:a@x.example" } },
);
const text = fc.record({
  type: fc.constant("text"),
  text: fc.constantFrom("Weir", "a < b & c", "\u00e9\u6c34", "1. no list"),
  marks: fc.uniqueArray(mark, { maxLength: 2, selector: ({ type }) => type }),
});
const words: fc.Arbitrary<Json> = fc.oneof(text, fc.constant({ type: "hardBreak" }));
const inline = fc.array(words, { minLength: 1, maxLength: 3 });
const paragraph = inline.map((content): Json => ({ type: "paragraph", content }));
const picture: Json = { type: "image", attrs: { src: "/course/c-1/file/f-2", alt: 'The "weir"' } };
const block: fc.Arbitrary<Json> = fc.letrec<{ block: Json }>((tie) => ({
  block: fc.oneof(
    { maxDepth: 2 },
    paragraph,
    fc.tuple(fc.constantFrom(3, 4), inline).map(([level, content]) => ({ type: "heading", attrs: { level }, content })),
    fc.constant({ type: "horizontalRule" }),
    fc.constant(picture),
    fc
      .tuple(
        fc.constantFrom("bulletList", "orderedList"),
        fc.constantFrom(1, 4),
        fc.array(paragraph, { minLength: 1, maxLength: 2 }),
        tie("block"),
      )
      .map(
        ([type, start, items, inner]): Json => ({
          type,
          ...(type === "orderedList" ? { attrs: { start } } : {}),
          content: [
            ...items.map((one) => ({ type: "listItem", content: [one] })),
            { type: "listItem", content: [{ type: "paragraph" }, inner] },
          ],
        }),
      ),
    fc.array(fc.tuple(paragraph, tie("block")), { minLength: 1, maxLength: 2 }).map(
      (rows): Json => ({
        type: "table",
        content: rows.map((cells, at) => ({
          type: "tableRow",
          content: cells.map((one) => ({
            type: at === 0 ? "tableHeader" : "tableCell",
            attrs: { colspan: 1, rowspan: 1 },
            content: [one],
          })),
        })),
      }),
    ),
  ),
})).block;
const drawn = fc
  .array(block, { minLength: 1, maxLength: 4 })
  .map((content) => ({ type: "doc", content }))
  .filter((json) => {
    try {
      DocumentNode.fromJSON(schema, json).check();
      return true;
    } catch {
      return false;
    }
  });

/** Tags, what they mean and words, without what is only for the eye of the editor. */
const meaning = (html: string): string[] =>
  [...html.matchAll(/<(\/?)([a-z][a-z0-9]*)((?:\s[^>]*?)?)\s*\/?>|([^<]+)/gi)]
    .filter(([, , tag]) => tag !== "colgroup" && tag !== "col")
    .map(([, slash = "", tag = "", rest = "", said = ""]) => {
      const kept = [...rest.matchAll(/\b(href|start|src|alt|colspan|rowspan)="([^"]*)"/g)].map(([one]) => one).sort();
      return tag ? `${slash}${tag} ${kept.join(" ")}` : said.replaceAll("&quot;", '"').replaceAll("&apos;", "'");
    });

test("nothing that the editor can make is lost to a student, and out and in again", () => {
  const kinds = new Set<string>();
  fc.assert(
    fc.property(drawn, (json) => {
      DocumentNode.fromJSON(schema, json).descendants((node) => {
        kinds.add(node.type.name);
        for (const { type } of node.marks) kinds.add(type.name);
      });
      const html = renderToHTMLString({ extensions: richExtensions, content: json });
      expect(meaning(safeHtml(html))).toEqual(meaning(html));
      expect(notKept(html)).toEqual([]);
      const plan = coursePlan();
      addItem(plan, "page", { kind: "page", body: html });
      const [item] = (readCartridge(writeCartridge(plan, new Map())) as Cartridge).items;
      expect(item?.body.replaceAll(/<a href="\/course\/c-1\/file\/f-2">.*?<\/a>/g, "")).toBe(
        html.replaceAll(/<img[^>]*>/g, ""),
      );
    }),
    { numRuns: 200 },
  );
  // Every kind that the editor knows was drawn.
  const known = [...Object.keys(schema.nodes), ...Object.keys(schema.marks)].filter((name) => name !== "doc");
  expect([...kinds].sort()).toEqual(known.sort());
});

test("what a text does not hold is named once, and its words stay", () => {
  const html =
    '<div><h1>Head</h1><video src="x"></video><video></video><img src="https://x.example/a.png"><script>1</script><b>bold</b><table><thead><tr><th>a</th></tr></thead></table></div>';
  expect(notKept(html)).toEqual(["video", "a picture from elsewhere", "script"]);
  expect(safeHtml(html)).toBe("<h3>Head</h3><strong>bold</strong><table><tr><th>a</th></tr></table>");
  expect(safeHtml('<img src="/course/c/file/f" alt="x" onerror="1"><img src="/course/../x">')).toBe(
    '<img src="/course/c/file/f" alt="x" />',
  );
});
