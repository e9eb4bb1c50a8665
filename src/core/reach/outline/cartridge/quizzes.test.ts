/** Quizzes through a Common Cartridge and back, and tests that others write. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { possibleIn, questionsOf } from "../../../plan/questions.ts";
import type { Item } from "../../../plan/types.ts";
import { archive, manifest } from "../../../tests/cartridges.ts";
import { addItem, coursePlan } from "../../../tests/fixture.ts";
import { anyQuiz, asSaid } from "../../../tests/random-quiz.ts";
import { type Cartridge, readCartridge } from "./read.ts";
import { cartridgeCommands } from "./taking.ts";
import { writeCartridge } from "./write.ts";

describe("quizzes of an archive", () => {
  const titled = fc.record({
    title: fc.constantFrom("Quiz 1", "Quiz <1> & more"),
    body: fc.constantFrom("", "<p>Read <em>all</em> of it first.</p>"),
    quiz: anyQuiz,
  });
  test("any come back with their text, questions, parts and points, and leave nothing beside the outline", () => {
    fc.assert(
      fc.property(fc.array(titled, { minLength: 1, maxLength: 3 }), (drawn) => {
        const plan = coursePlan();
        drawn.forEach((fields, position) => {
          addItem(plan, `q${position}`, { ...fields, kind: "quiz", position, points: possibleIn(fields.quiz) });
        });
        const read = readCartridge(writeCartridge(plan, new Map())) as Cartridge;
        expect(read.left).toEqual([]);
        const said = ({ title, body, points, quiz }: Pick<Item, "title" | "body" | "points" | "quiz">) => [
          ...[title, body, points, quiz?.parts.map(({ title: of, draw, mixed }) => [of, draw, mixed])],
          quiz && questionsOf(quiz).map(asSaid),
        ];
        expect(read.items.map(said)).toEqual(drawn.map((one) => said({ ...one, points: possibleIn(one.quiz) })));
        const commands = cartridgeCommands(read.items, {
          ...{ courseId: "c", parentId: null, first: 0, stored: new Map(), makeId: () => "i" },
        });
        expect(commands.map(({ item }) => [item.kind, item.published, item.quiz])).toEqual(
          read.items.map(({ quiz }) => ["quiz", false, quiz]),
        );
      }),
      { numRuns: 60 },
    );
  });
  test("a test beside the outline comes with its items, an item alone as a quiz of one; a lost item is told", () => {
    const item = (id: string) =>
      `<assessmentItem identifier="${id}"><responseDeclaration identifier="RESPONSE" cardinality="single" baseType="string"/><itemBody><p>${id}?</p><extendedTextInteraction responseIdentifier="RESPONSE"/></itemBody></assessmentItem>`;
    const files = {
      "imsmanifest.xml": manifest(
        "",
        `<resource identifier="a" type="imsqti_item_xmlv2p1" href="t/a.xml"><file href="t/a.xml"/></resource>
         <resource identifier="t" type="imsqti_test_xmlv2p1" href="t/test.xml"><file href="t/test.xml"/></resource>
         <resource identifier="b" type="imsqti_item_xmlv2p1" href="b.xml"><file href="b.xml"/></resource>`,
      ),
      "t/test.xml": `<assessmentTest><testPart><assessmentSection title="One"><assessmentItemRef href="a.xml"/><assessmentItemRef href="gone.xml"/></assessmentSection></testPart></assessmentTest>`,
      "t/a.xml": item("a"),
      "b.xml": item("b"),
    };
    const read = readCartridge(archive(files)) as Cartridge;
    expect(read.items).toMatchObject([{ kind: "folder", children: [{ title: "test.xml" }, { title: "b.xml" }] }]);
    expect(read.items[0]?.children.map(({ quiz }) => quiz && questionsOf(quiz).map(({ text }) => text))).toEqual([
      ["<p>a?</p>"],
      ["<p>b?</p>"],
    ]);
    expect(read.left).toEqual(["test.xml: t/gone.xml: The test names it, and it is not in the package."]);
    const broken = { ...files, "b.xml": "<a><b></a>", "t/test.xml": "<html/>" };
    expect((readCartridge(archive(broken)) as Cartridge).left).toContain(
      "test.xml: t/test.xml is no test or item of IMS QTI 2.1",
    );
  });
});
