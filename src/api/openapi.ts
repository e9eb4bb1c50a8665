/** The API as an OpenAPI 3.1 document, made from the same schemas that the server answers by. */
import { z } from "zod";
import { Command } from "../core/commands.ts";
import { Message } from "../core/messages/message.ts";
import { rowSchemas } from "../core/plan/rows.ts";
import { Condition } from "../core/plan/types.ts";
import { Draft } from "./drafting.ts";
import { type Endpoint, patternOf } from "./endpoint.ts";
import { endpointsByPurpose } from "./index.ts";
import { MarkRow } from "./parts.ts";

/** What several endpoints speak of stands in the document once, under its name. */
const named = z.registry<{ id: string }>();
const names: [string, z.ZodType][] = [
  ["Command", Command],
  ["Message", Message],
  ["Draft", Draft],
  ["Condition", Condition],
  ["Mark", MarkRow],
  ...Object.entries(rowSchemas).map(([table, schema]): [string, z.ZodType] => [`row_${table}`, schema]),
];
for (const [id, schema] of names) named.add(schema, { id });

const Problem = z.looseObject({
  type: z.string(),
  title: z.string(),
  status: z.number().int(),
  /** What is wrong, where, and what to do next. */
  detail: z.string(),
  code: z.string().optional(),
});

type Json = Record<string, unknown>;

/** JSON Schema with references to the named ones; what JSON cannot say is any value. */
const schemaOf = (schema: z.ZodType, io: "input" | "output"): Json => {
  const { $schema, ...made } = z.toJSONSchema(schema, {
    io,
    metadata: named,
    unrepresentable: "any",
    reused: "inline",
  });
  return lifted(made, io);
};
/** References of one schema to its own definitions, as references into the document. */
function lifted(made: Json, io: "input" | "output"): Json {
  const { $defs, ...rest } = made;
  for (const [name, schema] of Object.entries(($defs ?? {}) as Record<string, Json>))
    definitions.set(`${name}_${io}`, schema);
  return repointed(rest, io) as Json;
}
const definitions = new Map<string, Json>();
function repointed(value: unknown, io: "input" | "output"): unknown {
  if (Array.isArray(value)) return value.map((one) => repointed(one, io));
  if (typeof value !== "object" || value === null) return value;
  return Object.fromEntries(
    Object.entries(value).map(([key, inner]) =>
      key === "$ref" && typeof inner === "string"
        ? [key, inner.replace(/^#\/\$defs\/(.*)$/, `#/components/schemas/$1_${io}`)]
        : [key, repointed(inner, io)],
    ),
  );
}

const json = (schema: Json): Json => ({ "application/json": { schema } });
const text = { schema: { type: "string" } };

function parametersOf({ path, query }: Endpoint): Json[] {
  const inPath = ["course", ...[...path.matchAll(/\[(\w+)\]/g)].map(([, name]) => name as string)];
  const asked = query ? schemaOf(query, "input") : {};
  const required = new Set((asked.required ?? []) as string[]);
  return [
    ...inPath.map((name) => ({ name, in: "path", required: true, schema: { type: "string" } })),
    ...Object.entries((asked.properties ?? {}) as Record<string, Json>).map(([name, schema]) => ({
      name,
      in: "query",
      required: required.has(name),
      schema,
    })),
  ];
}

function operationOf(name: string, purpose: string, one: Endpoint): Json {
  const sent = one.body ? json(schemaOf(one.body, "input")) : one.sends ? { [one.sends]: text } : null;
  const content = {
    ...(one.answer ? json(schemaOf(one.answer, "output")) : {}),
    ...Object.fromEntries(
      (one.gives ?? []).filter((type) => type !== "application/json" || !one.answer).map((type) => [type, text]),
    ),
  };
  return {
    operationId: name,
    tags: [purpose],
    summary: one.says,
    description: `For ${one.who === "staff" ? "the coordinator and, within their scope, others on the staff" : `the ${one.who}`}. What one may not do answers as what does not exist.`,
    parameters: parametersOf(one),
    ...(sent ? { requestBody: { required: true, content: sent } } : {}),
    responses: {
      [one.status ?? 200]: { description: "Done.", content },
      default: {
        description: "What is wrong, where, and what to do next (RFC 9457).",
        content: { "application/problem+json": { schema: { $ref: "#/components/schemas/Problem" } } },
      },
    },
  };
}

/** The whole document. */
export function openApi(): Json {
  definitions.clear();
  const paths: Record<string, Json> = {};
  for (const [purpose, endpoints] of Object.entries(endpointsByPurpose))
    for (const [name, one] of Object.entries(endpoints)) {
      const path = patternOf(one).replace(/\[(\w+)\]/g, "{$1}");
      paths[path] = { ...paths[path], [one.method.toLowerCase()]: operationOf(name, purpose, one) };
    }
  const problem = schemaOf(Problem, "output");
  const schemas = Object.fromEntries(
    [...definitions].map(([name, schema]) => [name, repointed(schema, name.endsWith("_input") ? "input" : "output")]),
  );
  return {
    openapi: "3.1.0",
    info: {
      title: "Amber Weave",
      version: "1",
      description:
        "What the workbench asks of the server. A session comes from signing in; the role in the course decides.",
    },
    tags: Object.keys(endpointsByPurpose).map((name) => ({ name })),
    paths,
    components: {
      schemas: { Problem: problem, ...schemas },
      securitySchemes: { session: { type: "apiKey", in: "cookie", name: "amber_session" } },
    },
    security: [{ session: [] }],
  };
}
