import fc from "fast-check";
import { strToU8, zipSync } from "fflate";
import { describe, expect, test } from "vitest";
import { fileTrouble, plainName, typeOf } from "../../../formats/stored-files.ts";
import type { Item } from "../../../plan/types.ts";
import { archive, manifest } from "../../../tests/cartridges.ts";
import { addItem, coursePlan } from "../../../tests/fixture.ts";
import { type Cartridge, readCartridge } from "./read.ts";
import { allOf, cartridgeCommands } from "./taking.ts";
import { leftUnsaid } from "./unsaid.ts";
import { writeCartridge } from "./write.ts";

type Said = Pick<Item, "kind" | "title" | "body" | "points">;
interface Made extends Said {
  id: string;
  parentId: string | null;
  /** Of its file, where it has one. */
  name: string | null;
}
const drawnItem = fc.record({
  kind: fc.constantFrom(
    "folder" as const,
    "page" as const,
    "link" as const,
    "discussion" as const,
    "assignment" as const,
    "file" as const,
  ),
  title: fc.constantFrom("007", "1.10", "Week <1> & more", 'caf\u00e9 "x"', "a'b", "50%", "\u6c34", "&amp;"),
  body: fc.constantFrom(
    "",
    "<p>a &amp; b</p>",
    "<p>Say <em>why</em> 100%</p>",
    '<p><a href="https://x.example/?a=1&amp;b=2">x</a></p>',
  ),
  points: fc.constantFrom(null, 0, 12.5, 100),
  parent: fc.nat(10),
  name: fc.constantFrom("50%.pdf", "Field card.csv", "a#b?.txt", "\u00fc.png"),
});
type Drawn = typeof drawnItem extends fc.Arbitrary<infer One> ? One : never;

const bodyFor = ({ kind, body }: Drawn): string =>
  kind === "link" ? "https://x.example/?a=1&b=2" : kind === "folder" || kind === "file" ? "" : body;
/** Items of what was drawn, each in a folder before it, or at the top. */
function outlineOf(drawn: Drawn[]): Made[] {
  const folders: string[] = [];
  return drawn.map((one, at) => {
    const { kind, title, points, parent, name } = one;
    const made: Made = {
      id: `i${at}`,
      kind,
      title,
      body: bodyFor(one),
      points: kind === "assignment" ? points : null,
      parentId: folders[parent] ?? null,
      name: kind === "file" ? name : null,
    };
    if (kind === "folder") folders.push(made.id);
    return made;
  });
}
function archiveOf(items: Made[]): Uint8Array {
  const plan = coursePlan();
  items.forEach(({ id, name, ...fields }, position) => {
    addItem(plan, id, { ...fields, position, file: name === null ? null : { id, name, type: "x", size: 3 } });
  });
  return writeCartridge(plan, new Map(items.map(({ id }) => [id, strToU8("a,b")])));
}
const plainTree = (items: Cartridge["items"]): unknown[] =>
  items.map(({ kind, title, body, points, file, children }) => [
    kind,
    title,
    body,
    points,
    file?.name ?? null,
    plainTree(children),
  ]);
/** What all items say, in no order. */
const saidBy = (items: Said[]): string[] =>
  items.map(({ kind, title, body, points }) => JSON.stringify([kind, title, body, points])).sort();

describe("an outline from a Common Cartridge", () => {
  test("tree, pages, files, links and topics are taken; what else there is, is told", () => {
    const bytes = archive({
      "imsmanifest.xml": manifest(
        `<item identifier="f"><title>Week &amp; 1</title>
           <item identifier="a" identifierref="ra"><title>Page</title></item>
           <item identifier="b" identifierref="rb"><title>Levels</title></item></item>
         <item identifier="c" identifierref="rc"><title>Talk</title></item>
         <item identifier="d" identifierref="rd"><title>Card</title></item>
         <item identifier="e" identifierref="re"><title>Quiz</title></item>
         <item identifier="g" identifierref="rg"><title>Lost</title></item>
         <item identifier="h" identifierref="rh"><title>Script</title></item>`,
        `<resource identifier="ra" type="webcontent" href="a b.html"><file href="a b.html"/></resource>
         <resource identifier="rb" type="imswl_xmlv1p3"><file href="b.xml"/></resource>
         <resource identifier="rc" type="imsdt_xmlv1p3"><file href="c.xml"/></resource>
         <resource identifier="rd" type="webcontent" href="d/card.csv"><file href="d/card.csv"/></resource>
         <resource identifier="re" type="imsqti_xmlv1p2/imscc_xmlv1p3/assessment"><file href="e.xml"/></resource>
         <resource identifier="rg" type="webcontent" href="gone.pdf"/>
         <resource identifier="rh" type="webcontent" href="run.js"/>`,
      ),
      "a b.html": "<html><body class='x'><p>Hello</p></body></html>",
      "b.xml": '<webLink><title>Levels</title><url href="https://levels.tarnbeck.example/?a=1&amp;b=2"/></webLink>',
      "c.xml": '<topic><title>Talk</title><text texttype="text/html">&lt;p&gt;Say&lt;/p&gt;</text></topic>',
      "d/card.csv": "a,b",
      "e.xml": "<x/>",
      "run.js": "1",
    });
    const read = readCartridge(bytes) as Cartridge;
    expect(read.items.map(({ kind, title }) => [kind, title])).toEqual([
      ["folder", "Week & 1"],
      ["discussion", "Talk"],
      ["file", "Card"],
    ]);
    expect(read.items[0]?.children).toMatchObject([
      { kind: "page", body: "<p>Hello</p>" },
      { kind: "link", body: "https://levels.tarnbeck.example/?a=1&b=2" },
    ]);
    expect(read.items[1]?.body).toBe("<p>Say</p>");
    expect(read.items[2]?.file?.name).toBe("card.csv");
    expect(read.left).toEqual([
      "Quiz: a test in QTI 1 is not taken",
      "Lost: its file gone.pdf is not in the archive",
      expect.stringMatching(/^Script: run\.js cannot be stored/),
    ]);
  });
  test("what is no archive, or no cartridge, or broken, says so", () => {
    expect(readCartridge(strToU8("no"))).toMatchObject({ trouble: expect.stringContaining("no archive") });
    expect(readCartridge(archive({ "x.txt": "x" }))).toMatchObject({
      trouble: expect.stringContaining("imsmanifest.xml"),
    });
    expect(readCartridge(archive({ "imsmanifest.xml": "<a/>" }))).toMatchObject({
      trouble: expect.stringContaining("no manifest"),
    });
  });
  test("titles stay text, names keep their percent signs, and the manifest is read in the encoding it says", () => {
    const text = manifest(
      `<item identifier="a" identifierref="ra"><title>007</title></item>
       <item identifier="b" identifierref="rb"><title>1.10</title></item>
       <item identifier="c"><title>Caf\u00e9 &#233;&amp;amp;</title></item>`,
      `<resource identifier="ra" type="webcontent" href="50%.pdf"><file href="50%.pdf"/></resource>
       <resource identifier="rb" type="imswl_xmlv1p3"><file href="b.xml"/></resource>`,
    ).replace('version="1.0"', 'version="1.0" encoding="ISO-8859-1"');
    const latin = Uint8Array.from(text, (letter) => letter.charCodeAt(0));
    const read = readCartridge(
      zipSync({
        "imsmanifest.xml": latin,
        "50%.pdf": strToU8("%PDF"),
        "b.xml": strToU8("<webLink><url href=''/></webLink>"),
      }),
    ) as Cartridge;
    expect(read.items.map(({ title, file }) => [title, file?.name])).toEqual([
      ["007", "50%.pdf"],
      ["Caf\u00e9 \u00e9&amp;", undefined],
    ]);
    expect(read.left).toEqual(["1.10: its address is missing"]);
  });
  test("a UTF-16 manifest under a base, an item that holds more beneath, what stands beside the outline, links within it", () => {
    const text = `<?xml version="1.0" encoding="UTF-16"?>${manifest(
      `<item identifier="a" identifierref="ra"><title>Start</title><item identifier="b" identifierref="rb"><title>Talk</title></item></item>
       <item identifier="l" identifierref="rl"><title>Lab</title></item>`,
      `<resource identifier="ra" type="webcontent" href="start.html" xml:base="week1/"><file href="start.html"/><file href="map.png"/><dependency identifierref="rx"/></resource>
       <resource identifier="rb" type="imsdt_xmlv1p3"><file href="b.xml"/></resource>
       <resource identifier="rl" type="assignment_xmlv1p0" href="lab.xml"><file href="lab.xml"/></resource>
       <resource identifier="rx" type="webcontent" href="papers/a.pdf"><file href="papers/a.pdf"/></resource>`,
    ).slice(21)}`;
    const utf16 = new Uint8Array(2 + text.length * 2);
    utf16.set([0xff, 0xfe]);
    for (let at = 0; at < text.length; at++)
      new DataView(utf16.buffer).setUint16(2 + at * 2, text.charCodeAt(at), true);
    const read = readCartridge(
      zipSync({
        "in/imsmanifest.xml": utf16,
        "in/week1/start.html": strToU8(
          '<body><img src="map.png" alt="The map"><a href="$IMS-CC-FILEBASE$papers/a.pdf?x=1">Paper</a><a href="$IMS-CC-FILEBASE$/gone.pdf">Gone</a><a href="https://x.example/">Out</a></body>',
        ),
        "in/week1/map.png": strToU8("png"),
        "in/b.xml": strToU8(
          '<topic><text texttype="text/html">Say</text><attachments><attachment href="papers/a.pdf"/></attachments></topic>',
        ),
        "in/lab.xml": strToU8(
          '<assignment><text texttype="text/html">&lt;p&gt;Do&lt;/p&gt;</text><gradable points_possible="12.5">true</gradable></assignment>',
        ),
        "in/papers/a.pdf": strToU8("pdf"),
      }),
    ) as Cartridge;
    const shape = (items: Cartridge["items"]): unknown[] =>
      items.map(({ kind, title, children }) => (kind === "folder" ? [title, shape(children)] : `${kind} ${title}`));
    expect(shape(read.items)).toEqual([
      ["Start", ["page Start", "discussion Talk"]],
      "assignment Lab",
      ["Other files of the archive", ["file map.png", "file a.pdf"]],
    ]);
    expect(allOf(read.items).find(({ kind }) => kind === "assignment")).toMatchObject({
      points: 12.5,
      body: "<p>Do</p>",
    });
    expect(read.left).toEqual(["Start: it links to $IMS-CC-FILEBASE$/gone.pdf, which is not in the archive"]);
    let count = 0;
    const into = { courseId: "c", parentId: null, first: 5, stored: new Map(), makeId: () => `id ${++count}` };
    const drafted = cartridgeCommands(read.items, into).map(({ item }) => item);
    const idOf = (title: string) => drafted.find((item) => item.title === title)?.id;
    expect(drafted.find(({ kind }) => kind === "page")?.body).toBe(
      `<a href="/course/c/file/${idOf("map.png")}">The map</a><a href="/course/c/file/${idOf("a.pdf")}">Paper</a><a href="$IMS-CC-FILEBASE$/gone.pdf">Gone</a><a href="https://x.example/">Out</a>`,
    );
    expect(drafted.find(({ kind }) => kind === "discussion")?.body).toContain(`/course/c/file/${idOf("a.pdf")}`);
    expect(drafted.every(({ published }) => !published)).toBe(true);
  });
  test("one faulty part is left out and told, and the rest comes in", () => {
    const read = readCartridge(
      archive({
        "imsmanifest.xml": manifest(
          `<item identifier="a" identifierref="ra"><title>Broken</title></item><item identifier="b" identifierref="rb"><title>Empty</title></item><item identifier="c"><title>Whole</title></item>`,
          `<resource identifier="ra" type="imsdt_xmlv1p3"><file href="a.xml"/></resource><resource identifier="rb" type="webcontent" href="b.pdf"/>`,
        ),
        "a.xml": "<topic><text",
        "b.pdf": "",
      }),
    ) as Cartridge;
    expect(read.items.map(({ title }) => title)).toEqual(["Whole"]);
    expect(read.left).toEqual(["Broken: its file a.xml cannot be read", "Empty: b.pdf is empty."]);
  });
  test("written and read again, and again, the outline is the same", () => {
    fc.assert(
      fc.property(fc.array(drawnItem, { minLength: 1, maxLength: 10 }), (drawn) => {
        const first = outlineOf(drawn);
        const read = readCartridge(archiveOf(first)) as Cartridge;
        let count = 0;
        const into = { courseId: "c", parentId: null, first: 0, stored: new Map(), makeId: () => `n${++count}` };
        const again = cartridgeCommands(read.items, into).map(({ item }, at) => ({
          ...item,
          name: allOf(read.items)[at]?.file?.name ?? null,
        }));
        expect(read.left).toEqual([]);
        expect(plainTree((readCartridge(archiveOf(again)) as Cartridge).items)).toEqual(plainTree(read.items));
        expect(saidBy(allOf(read.items))).toEqual(saidBy(first));
      }),
      { numRuns: 100 },
    );
  });
  test("what an archive does not say is listed", () => {
    const plan = coursePlan();
    addItem(plan, "quiz", { kind: "quiz", title: "Quiz 1", points: 5, dates: { due: "2026-10-05T09:00" } });
    addItem(plan, "lab", { kind: "assignment", points: 5, published: false });
    expect(leftUnsaid(plan)).toEqual([
      "Dates and limits: Quiz 1.",
      "That it is a quiz or an event; it goes out as a page: Quiz 1.",
      "Points of what is no assignment: Quiz 1.",
      "That it is not published: lab.",
    ]);
  });
});

describe("files that may be stored", () => {
  test("by their ending, never larger than fifty megabytes, never empty", () => {
    expect(typeOf("Map.PDF")).toEqual({ type: "application/pdf", shown: false });
    expect(typeOf("photo.jpeg")?.shown).toBe(true);
    for (const name of ["x.html", "x.svg", "x.js", "x.exe", "none"]) expect(typeOf(name)).toBeNull();
    expect(fileTrouble("x.html", 5)).toContain("html");
    expect(fileTrouble("x.pdf", 50 * 1024 * 1024 + 1)).toContain("50 MB is the most");
    expect(fileTrouble("x.pdf", 0)).toContain("empty");
    expect(fileTrouble("x.pdf", 50 * 1024 * 1024)).toBeNull();
  });
  test("names lose paths and what a header could stumble over", () => {
    expect(plainName("C:\\maps\\weir.pdf")).toBe("weir.pdf");
    expect(plainName('a/b"c\n.txt')).toBe("b_c_.txt");
  });
});
