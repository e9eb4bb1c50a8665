/** The document says every endpoint, as tools of the field read it. */
import { Validator } from "@seriousme/openapi-schema-validator";
import { expect, test } from "vitest";
import { endpoints } from "./index.ts";
import { openApi } from "./openapi.ts";

interface Operation {
  operationId: string;
  parameters: { name: string; in: string }[];
  requestBody?: object;
  responses: Record<string, { content: object }>;
}
const document = openApi() as { paths: Record<string, Record<string, Operation>> };
const operations = Object.values(document.paths).flatMap((path) => Object.values(path));

test("it is a valid OpenAPI document", async () => {
  const { valid, errors } = await new Validator().validate(openApi());
  expect([valid, errors]).toEqual([true, undefined]);
});

test("every endpoint stands in it once, with what it is asked and what it answers", () => {
  expect(operations).toHaveLength(endpoints.length);
  expect(new Set(operations.map(({ operationId }) => operationId)).size).toBe(endpoints.length);
  expect(operations.filter(({ requestBody }) => requestBody)).toHaveLength(
    endpoints.filter(({ body, sends }) => body || sends).length,
  );
  for (const { operationId, responses } of operations) {
    const [answer] = Object.values(responses);
    expect([operationId, Object.keys(answer?.content ?? {}).length > 0]).toEqual([operationId, true]);
  }
});

test("every reference leads to a schema of the document", () => {
  const text = JSON.stringify(document);
  const schemas = (document as unknown as { components: { schemas: object } }).components.schemas;
  const referred = new Set([...text.matchAll(/"#\/components\/schemas\/([^"]+)"/g)].map(([, name]) => name as string));
  expect([...referred].filter((name) => !(name in schemas))).toEqual([]);
  expect([...text.matchAll(/"#\/\$defs/g)]).toEqual([]);
  expect(referred).toContain("Command_input");
});

test("what stands in brackets and behind the question mark is a parameter", () => {
  const parameters = (path: string, method: string) =>
    document.paths[path]?.[method]?.parameters.map((one) => `${one.in} ${one.name}`);
  expect(parameters("/api/courses/{course}/journal/{line}", "get")).toEqual(["path course", "path line"]);
  expect(parameters("/api/courses/{course}/plan", "get")).toEqual(["path course", "query after", "query at"]);
});
