/** docs/catalogue.md: every command with its fields, and every refusal with its sentence, as the code has them. */
import { readdirSync, readFileSync } from "node:fs";
import { expect, test } from "vitest";
import { z } from "zod";
import { Command } from "../core/commands.ts";

interface Schema {
  type?: string;
  const?: unknown;
  enum?: unknown[];
  properties?: Record<string, Schema>;
  required?: string[];
  anyOf?: Schema[];
  oneOf?: Schema[];
}

/** A schema in a word or two: what a reader needs to write one. */
function sayType({ type, const: only, enum: some, anyOf, oneOf }: Schema): string {
  if (only !== undefined) return JSON.stringify(only);
  if (some) return some.map((one) => JSON.stringify(one)).join(" or ");
  const either = anyOf ?? oneOf;
  if (either) return [...new Set(either.map(sayType))].join(" or ");
  return type === "array" ? "list" : (type ?? "any");
}

function commandLines(): string[] {
  const schema = z.toJSONSchema(Command, { io: "input", unrepresentable: "any" }) as Schema;
  const commands = (schema.oneOf ?? schema.anyOf ?? []).map(({ properties = {}, required = [] }) => {
    const fields = Object.entries(properties).filter(([name]) => name !== "id" && name !== "kind");
    const said = fields.map(([name, field]) => `\`${name}\`${required.includes(name) ? "" : "?"} ${sayType(field)}`);
    return `| \`${properties.kind?.const}\` | ${said.join(" · ").replaceAll("|", "\\|")} |`;
  });
  return commands.sort();
}

/** Codes and sentences where they are written; what is filled in stands in braces. */
function refusalLines(): string[] {
  const found = new Map<string, Set<string>>();
  const files = ["src/core", "src/server"].flatMap((folder) =>
    readdirSync(folder, { recursive: true, encoding: "utf8" }).map((name) => `${folder}/${name}`),
  );
  for (const file of files.filter((name) => name.endsWith(".ts") && !name.endsWith(".test.ts"))) {
    const written = readFileSync(file, "utf8").matchAll(/refuse\(\s*"([a-z]+\.[\w. -]+)",\s*(?:"([^"]*)"|`([^`]*)`)/g);
    for (const [, code = "", plain, filled] of written) {
      const sentence = plain ?? (filled ?? "").replace(/\$\{[^}]*\}+/g, "…");
      found.set(code, (found.get(code) ?? new Set()).add(sentence));
    }
  }
  return [...found].sort().flatMap(([code, all]) => [...all].sort().map((one) => `| \`${code}\` | ${one} |`));
}

test("docs/catalogue.md names every command and every refusal as the code has them", async () => {
  const [commands, refusals] = [commandLines(), refusalLines()];
  expect(commands.length).toBeGreaterThan(60);
  expect(refusals.length).toBeGreaterThan(60);
  const page = [
    "# Commands and refusals",
    "",
    "Made from the code by `src/api/catalogue.test.ts`; after a change run `npx vitest run src/api/catalogue.test.ts -u`.",
    "",
    "## Commands",
    "",
    "Every change of a plan is one of these: a JSON object with an `id` (UUIDv7), its `kind`, and the fields beside it. A field",
    "with ? may be left out. The schemas stand with the concept that each changes, found by its kind.",
    "",
    "| kind | fields |",
    "| --- | --- |",
    ...commands,
    "",
    "## Refusals",
    "",
    "A command that cannot be applied gives a code for programs and a sentence for people; … is filled in.",
    "",
    "| code | sentence |",
    "| --- | --- |",
    ...refusals,
    "",
  ].join("\n");
  await expect(page).toMatchFileSnapshot("../../docs/catalogue.md");
});
