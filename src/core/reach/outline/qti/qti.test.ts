/** Questions through IMS QTI 2.1 and back, and items that others write. */

import fc from "fast-check";
import { XMLValidator } from "fast-xml-parser";
import { strFromU8, strToU8, unzipSync, zipSync } from "fflate";
import { describe, expect, test } from "vitest";
import { questionsOf, quizFault } from "../../../plan/questions.ts";
import { anyQuiz, asSaid } from "../../../tests/random-quiz.ts";
import { readQti } from "./read.ts";
import { writeQti } from "./write.ts";

const counter = () => {
  let count = 0;
  return () => `id ${count++}`;
};
const read = (bytes: Uint8Array, name = "questions.zip") => {
  const found = readQti(bytes, name, counter());
  if (typeof found === "string") throw new Error(found);
  return found;
};

test("any questions come back as they went, in their parts, drawn and mixed as they were; every file is sound XML", () => {
  fc.assert(
    fc.property(anyQuiz, fc.boolean(), (quiz, mixed) => {
      const sent = { ...quiz, parts: quiz.parts.map((part) => ({ ...part, mixed })) };
      const bytes = writeQti(sent, "A <quiz> & more");
      for (const file of Object.values(unzipSync(bytes))) expect(XMLValidator.validate(strFromU8(file))).toBe(true);
      const { quiz: back, troubles } = read(bytes);
      expect(troubles).toEqual([]);
      expect(quizFault(back)).toBeNull();
      const partial = (one: (typeof back.parts)[number]["questions"][number]) =>
        "partial" in one ? one.partial : null;
      expect(questionsOf(back).map(asSaid)).toEqual(questionsOf(sent).map(asSaid));
      expect(questionsOf(back).map(partial)).toEqual(questionsOf(sent).map(partial));
      expect(back.parts.map(({ title, mixed: isMixed, draw }) => [title, isMixed, draw])).toEqual(
        sent.parts.map(({ title, draw }) => [title, mixed, draw]),
      );
    }),
    { numRuns: 100 },
  );
});

test("how many are drawn, a unit, and case that counts go along", () => {
  const questions = ["a", "b"].map((id) => ({
    ...{ id, kind: "number" as const, text: "<p>How fast?</p>", points: 2, right: 3, unit: "m/s", withoutUnit: 0 },
    tolerance: { amount: 5, relative: true },
  }));
  const short = {
    id: "c",
    kind: "short" as const,
    text: "<p>Which?</p>",
    points: 1,
    accepted: ["NaCl"],
    caseCounts: true,
    blanksCount: false,
  };
  const part = { id: "p", title: "Drawn", draw: 1, mixed: false, questions };
  const rest = { id: "r", title: "", draw: null, mixed: false, questions: [short] };
  const { quiz } = read(
    writeQti({ parts: [part, rest], mixChoices: false, counts: "best", shows: "at once", released: false }, "t"),
  );
  expect(quiz.parts).toMatchObject([
    { draw: 1, questions: [{ unit: "m/s", tolerance: { amount: 5, relative: true } }, {}] },
    { questions: [{ caseCounts: true }] },
  ]);
});

const item = (declares: string, body: string, more = "") =>
  strToU8(
    `<?xml version="1.0"?><assessmentItem xmlns="http://www.imsglobal.org/xsd/imsqti_v2p1" identifier="i" title="An item">${declares}<itemBody>${body}</itemBody>${more}</assessmentItem>`,
  );

describe("what others write", () => {
  test("an item alone, its prompt within the interaction, its worth by its map", () => {
    const declares =
      '<responseDeclaration identifier="R" cardinality="multiple" baseType="identifier"><correctResponse><value>H</value><value>O</value></correctResponse><mapping><mapEntry mapKey="H" mappedValue="1"/><mapEntry mapKey="O" mappedValue="1"/><mapEntry mapKey="Cl" mappedValue="-1"/></mapping></responseDeclaration>';
    const body =
      '<choiceInteraction responseIdentifier="R" maxChoices="0"><prompt>What is water <strong>made</strong> of?</prompt><simpleChoice identifier="H">Hydrogen</simpleChoice><simpleChoice identifier="O">Oxygen</simpleChoice><simpleChoice identifier="Cl">Chlorine</simpleChoice></choiceInteraction>';
    const [question] = questionsOf(read(item(declares, body), "water.xml").quiz);
    expect(question).toMatchObject({
      kind: "several",
      points: 2,
      partial: true,
      text: "<p>What is water <strong>made</strong> of?</p>",
    });
    expect((question as { right: string[] }).right).toHaveLength(2);
  });
  test("what is not known is told with its place, and its words are kept for a person to mark", () => {
    const { quiz, troubles } = read(
      item("", '<p>Put in order &amp; explain.</p><orderInteraction responseIdentifier="R"/>'),
      "order.xml",
    );
    expect(troubles).toEqual([{ place: "order.xml", says: expect.stringMatching(/^It asks by orderInteraction /) }]);
    expect(questionsOf(quiz)).toMatchObject([{ kind: "long", text: "<p>Put in order &amp; explain.</p>" }]);
  });
  test("a test that names what is not there says so; a package without one is all its items", () => {
    const files = { "items/a.xml": item("", '<p>Why?</p><extendedTextInteraction responseIdentifier="R"/>') };
    expect(questionsOf(read(zipSync(files)).quiz)).toHaveLength(1);
    const sections =
      '<assessmentSection identifier="s" title="S"><assessmentItemRef identifier="a" href="../items/a.xml"/><assessmentItemRef identifier="b" href="gone.xml"/></assessmentSection>';
    const test = strToU8(`<assessmentTest><testPart>${sections}</testPart></assessmentTest>`);
    const { quiz, troubles } = read(zipSync({ ...files, "tests/t.xml": test }));
    expect([quiz.parts.length, troubles.map(({ place }) => place)]).toEqual([1, ["tests/gone.xml"]]);
  });
  test("a file of something else is refused with its name", () => {
    expect(readQti(strToU8("<html/>"), "page.xml", counter())).toMatch(/^page\.xml holds no question/);
    expect(readQti(new Uint8Array([0x50, 0x4b, 3, 4, 9]), "broken.zip", counter())).toMatch(
      /^broken\.zip is an archive that is damaged/,
    );
  });
});
