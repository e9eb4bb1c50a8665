import { strToU8, zipSync } from "fflate";
import { describe, expect, test } from "vitest";
import { fileTrouble, plainName, typeOf } from "../../formats/stored-files.ts";
import { addItem, coursePlan } from "../../tests/fixture.ts";
import { type Cartridge, readCartridge, writeCartridge } from "./cartridge.ts";

const manifest = (items: string, resources: string) => `<?xml version="1.0"?>
<manifest identifier="m" xmlns="http://www.imsglobal.org/xsd/imsccv1p3/imscp_v1p1">
  <metadata><schema>IMS Common Cartridge</schema><schemaversion>1.3.0</schemaversion></metadata>
  <organizations><organization identifier="o" structure="rooted-hierarchy"><item identifier="root">${items}</item></organization></organizations>
  <resources>${resources}</resources>
</manifest>`;
const archive = (files: Record<string, string>) =>
  zipSync(Object.fromEntries(Object.entries(files).map(([name, text]) => [name, strToU8(text)])));

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
      "Quiz: imsqti is not taken",
      "Lost: its file gone.pdf is not in the archive",
      "Script: files such as run.js are not taken",
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
  test("written and read again, the outline is the same", () => {
    const plan = coursePlan();
    addItem(plan, "folder", { kind: "folder", title: "Week <1> & more" });
    addItem(plan, "inner", { kind: "folder", parentId: "folder" });
    addItem(plan, "page", { parentId: "inner", body: "<p>a &amp; b</p>" });
    addItem(plan, "link", { kind: "link", body: "https://x.example/?a=1&b=2", parentId: "folder" });
    addItem(plan, "talk", { kind: "discussion", body: "<p>Say <em>why</em></p>" });
    addItem(plan, "file", { kind: "file", file: { id: "f", name: "Field card.csv", type: "text/csv", size: 3 } });
    const read = readCartridge(writeCartridge(plan, new Map([["f", strToU8("a,b")]]))) as Cartridge;
    const plain = (items: Cartridge["items"]): unknown[] =>
      items.map(({ kind, title, body, file, children }) => [kind, title, body, file?.name ?? null, plain(children)]);
    expect(plain(read.items)).toEqual([
      [
        "folder",
        "Week <1> & more",
        "",
        null,
        [
          ["folder", "inner", "", null, [["page", "page", "<p>a &amp; b</p>", null, []]]],
          ["link", "link", "https://x.example/?a=1&b=2", null, []],
        ],
      ],
      ["discussion", "talk", "<p>Say <em>why</em></p>", null, []],
      ["file", "file", "", "Field card.csv", []],
    ]);
    expect(read.items[2]?.file?.bytes).toEqual(strToU8("a,b"));
    expect([read.left, read.title]).toEqual([[], plan.course.title]);
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
