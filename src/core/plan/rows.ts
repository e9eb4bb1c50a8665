/** The schema of each table's rows, for what comes from outside as rows: files, and changes that are led back. */
import type { z } from "zod";
import {
  Acceptance,
  Allowance,
  Course,
  Enrolment,
  Entrance,
  Group,
  Item,
  Layer,
  NamedSet,
  Override,
  Person,
  Placement,
  Section,
  type TableName,
} from "./types.ts";

export const rowSchemas = {
  course: Course,
  sections: Section,
  people: Person,
  enrolments: Enrolment,
  layers: Layer,
  groups: Group,
  sets: NamedSet,
  placements: Placement,
  items: Item,
  entrances: Entrance,
  overrides: Override,
  allowances: Allowance,
  acceptances: Acceptance,
} satisfies Record<TableName | "course", z.ZodType>;
