/** Parts that several endpoints share. */
import { z } from "zod";
import type { Mark } from "../core/plan/progress.ts";
import { Id } from "../core/plan/types.ts";

/** Epoch milliseconds. */
export const Moment = z.number().int();

export const MarkRow = z.strictObject({
  personId: Id,
  itemId: Id,
  points: z.number().nullable(),
  excused: z.boolean(),
  at: Moment,
  /** The group whose shared mark it is. */
  shared: Id.optional(),
}) satisfies z.ZodType<Mark>;
