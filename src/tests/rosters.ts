/** The demo's first roster as rows, and an empty course that takes rosters in. */
import { readFileSync } from "node:fs";
import { join } from "node:path";
import type { Page } from "@playwright/test";
import Papa from "papaparse";
import { v4 } from "uuid";
import { storePlan } from "../../demo/load.ts";
import { makeScenario } from "../../demo/scenario.ts";
import { application } from "./helpers.ts";

const weekOne = readFileSync(join(import.meta.dirname, "../../demo/rosters/week-1-merged.csv"), "utf8");
/** The header and the rows beneath it. */
export const lines = Papa.parse<string[]>(weekOne.trim()).data;
export const [header = [], ...rows] = lines;
export const csv = (body: string[][], titles = header) => Papa.unparse({ fields: titles, data: body });
export const drop = (page: Page, name: string, content: string | Uint8Array) =>
  page.locator("input[type=file]").setInputFiles({ name, mimeType: "", buffer: Buffer.from(content) });
/** A verdict by its count. */
export const toggle = (page: Page, name: string | RegExp) =>
  page.getByRole("radio", { name }).or(page.getByRole("button", { name }));

/** A course of its own, without sections or people: the demo's is where path.spec.ts begins. */
export async function storeEmptyCourse(code: string): Promise<void> {
  const { closeDatabase, transaction } = await import("../server/store/database.ts");
  process.env.AMBER_DATABASE_URL = application().databaseUrl;
  const { emptyCourse } = makeScenario(Date.parse("2026-11-25T10:00:00Z"), v4());
  emptyCourse.course.code = code;
  await transaction((connection) => storePlan(emptyCourse, connection));
  await closeDatabase();
}
