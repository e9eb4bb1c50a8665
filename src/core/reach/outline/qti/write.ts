/**
 * Questions as IMS QTI 2.1: an item each, and a test that holds them in their parts, in one package. Marking is by the
 * standard's own templates; a number that may be away is compared by rules of its own. A unit has no place in the format:
 * it stands as the placeholder of its field.
 */
import { strToU8, zipSync } from "fflate";
import { type Question, type Quiz, questionsOf, rightChoices } from "../../../plan/questions.ts";
import { asMarkup } from "../../../text/rich-text.ts";

const head = '<?xml version="1.0" encoding="UTF-8"?>\n';
const schema = "http://www.imsglobal.org/xsd/imsqti_v2p1";
const templates = "http://www.imsglobal.org/question/qti_v2p1/rptemplates/";

/** HTML of the editor as XML. */
const asXml = (html: string): string =>
  html.replace(/<(br|hr|img)([^>]*?)\s*\/?>/g, "<$1$2/>").replace(/&nbsp;/g, "&#160;");

/** The name of a question's file in the package, and of the question in the format: those begin with a letter. */
const nameOf = (place: number): string => `q${place + 1}`;

const values = (list: string[]): string => list.map((one) => `<value>${asMarkup(one)}</value>`).join("");
const entries = (list: [string, number][], more = ""): string =>
  `<mapping lowerBound="0" defaultValue="0">${list.map(([key, value]) => `<mapEntry mapKey="${asMarkup(key)}" mappedValue="${value}"${more}/>`).join("")}</mapping>`;
const declaration = (cardinality: string, baseType: string, inner: string): string =>
  `<responseDeclaration identifier="RESPONSE" cardinality="${cardinality}" baseType="${baseType}">${inner}</responseDeclaration>`;
const template = (name: string): string => `<responseProcessing template="${templates}${name}"/>`;

interface Written {
  declares: string;
  asks: string;
  marks: string;
}

function writeChoices(question: Extract<Question, { choices: unknown }>): Written {
  const letters = new Map(question.choices.map(({ id }, at) => [id, `C${at + 1}`]));
  const right = rightChoices(question).map((id) => letters.get(id) as string);
  const isOne = question.kind === "one";
  const isPartial = question.kind === "several" && question.partial;
  const share = right.length === 0 ? 0 : question.points / right.length;
  const map = entries([...letters.values()].map((letter) => [letter, right.includes(letter) ? share : -share]));
  const choices = question.choices.map(
    ({ id, text }) => `<simpleChoice identifier="${letters.get(id)}">${asMarkup(text)}</simpleChoice>`,
  );
  return {
    declares: declaration(
      isOne ? "single" : "multiple",
      "identifier",
      `<correctResponse>${values(right)}</correctResponse>${isPartial ? map : ""}`,
    ),
    asks: `<choiceInteraction responseIdentifier="RESPONSE" shuffle="false" maxChoices="${isOne ? 1 : 0}">${choices.join("")}</choiceInteraction>`,
    marks: template(isPartial ? "map_response" : "match_correct"),
  };
}

function writeNumber({ right, tolerance, unit, points }: Extract<Question, { kind: "number" }>): Written {
  const { amount, relative } = tolerance;
  const mode = amount === 0 ? "exact" : relative ? "relative" : "absolute";
  const how = amount === 0 ? "" : ` tolerance="${amount} ${amount}"`;
  const equal = `<equal toleranceMode="${mode}"${how}><variable identifier="RESPONSE"/><correct identifier="RESPONSE"/></equal>`;
  const all = `<setOutcomeValue identifier="SCORE"><baseValue baseType="float">${points}</baseValue></setOutcomeValue>`;
  return {
    declares: declaration("single", "float", `<correctResponse>${values([String(right)])}</correctResponse>`),
    asks: `<p><textEntryInteraction responseIdentifier="RESPONSE"${unit ? ` placeholderText="${asMarkup(unit)}"` : ""}/></p>`,
    marks: `<responseProcessing><responseCondition><responseIf>${equal}${all}</responseIf></responseCondition></responseProcessing>`,
  };
}

function writeShort({ accepted, caseCounts, points }: Extract<Question, { kind: "short" }>): Written {
  const map = entries(
    accepted.map((one) => [one, points]),
    ` caseSensitive="${caseCounts}"`,
  );
  return {
    declares: declaration(
      "single",
      "string",
      `<correctResponse>${values(accepted.slice(0, 1))}</correctResponse>${map}`,
    ),
    asks: '<p><textEntryInteraction responseIdentifier="RESPONSE"/></p>',
    marks: template("map_response"),
  };
}

function written(question: Question): Written {
  if (question.kind === "one" || question.kind === "several") return writeChoices(question);
  if (question.kind === "number") return writeNumber(question);
  if (question.kind === "short") return writeShort(question);
  return question.kind === "long"
    ? {
        declares: declaration("single", "string", ""),
        asks: '<extendedTextInteraction responseIdentifier="RESPONSE"/>',
        marks: "",
      }
    : {
        declares: declaration("single", "file", ""),
        asks: '<uploadInteraction responseIdentifier="RESPONSE"/>',
        marks: "",
      };
}

const outcome = (identifier: string, value: number | null): string =>
  `<outcomeDeclaration identifier="${identifier}" cardinality="single" baseType="float">${value === null ? "" : `<defaultValue><value>${value}</value></defaultValue>`}</outcomeDeclaration>`;

/** One question as an item of the format. */
function writeItem(question: Question, name: string): string {
  const { declares, asks, marks } = written(question);
  return (
    `${head}<assessmentItem xmlns="${schema}" identifier="${name}" title="${name}" adaptive="false" timeDependent="false">` +
    `${declares}${outcome("SCORE", null)}${outcome("MAXSCORE", question.points)}` +
    `<itemBody>${asXml(question.text)}${asks}</itemBody>${marks}</assessmentItem>`
  );
}

/** A text that stands before the first question. */
const rubric = (body: string): string =>
  body.trim() === "" ? "" : `<rubricBlock view="candidate">${asXml(body)}</rubricBlock>`;

function writeTest(quiz: Quiz, title: string, body: string): string {
  let place = 0;
  const sections = quiz.parts.map((part, at) => {
    const refs = part.questions.map(() => {
      const name = nameOf(place++);
      return `<assessmentItemRef identifier="${name}" href="${name}.xml"/>`;
    });
    const draws = part.draw === null ? "" : `<selection select="${part.draw}"/>`;
    const mixes = part.mixed ? '<ordering shuffle="true"/>' : "";
    const inner = `${draws}${mixes}${at === 0 ? rubric(body) : ""}${refs.join("")}`;
    return `<assessmentSection identifier="part${at + 1}" title="${asMarkup(part.title)}" visible="true">${inner}</assessmentSection>`;
  });
  return (
    `${head}<assessmentTest xmlns="${schema}" identifier="test" title="${asMarkup(title)}">` +
    `<testPart identifier="all" navigationMode="nonlinear" submissionMode="simultaneous">${sections.join("")}</testPart></assessmentTest>`
  );
}

/** Types of resources, as a manifest names them. */
export const qtiTypes = { test: "imsqti_test_xmlv2p1", item: "imsqti_item_xmlv2p1" };

/** The files of a quiz by name: the test, then an item for each question. `body`: HTML that stands before the first. */
export const qtiFiles = (
  quiz: Quiz,
  title: string,
  body = "",
): { test: string; items: [name: string, text: string][] } => ({
  test: writeTest(quiz, title, body),
  items: questionsOf(quiz).map((question, place) => [`${nameOf(place)}.xml`, writeItem(question, nameOf(place))]),
});

function writeManifest(names: string[]): string {
  const items = names.map(
    (name) =>
      `<resource identifier="${name.replace(".xml", "")}" type="${qtiTypes.item}" href="${name}"><file href="${name}"/></resource>`,
  );
  return (
    `${head}<manifest xmlns="http://www.imsglobal.org/xsd/imscp_v1p1" identifier="questions"><organizations/><resources>` +
    `<resource identifier="test" type="${qtiTypes.test}" href="test.xml"><file href="test.xml"/></resource>${items.join("")}</resources></manifest>`
  );
}

/** A package of all questions of a quiz, zipped. */
export function writeQti(quiz: Quiz, title: string): Uint8Array {
  const { test, items } = qtiFiles(quiz, title);
  return zipSync({
    "imsmanifest.xml": strToU8(writeManifest(items.map(([name]) => name))),
    "test.xml": strToU8(test),
    ...Object.fromEntries(items.map(([name, text]) => [name, strToU8(text)])),
  });
}
