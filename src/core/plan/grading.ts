/** How marks come together in a total. Source: semantics.md section 7. */
import { z } from "zod";
import { Id } from "./basics.ts";

export const Category = z.object({
  id: Id,
  name: z.string().trim().min(1).max(80),
  /** Categories are weighted against each other: only their proportion counts. */
  weight: z.number().min(0).max(1000),
  dropLowest: z.number().int().min(0).max(100),
});
export const Grading = z.object({
  categories: z.array(Category).max(60),
  missingIsZero: z.boolean(),
  /** A word from so many percent on; none: totals are percentages alone. */
  scale: z.array(z.object({ word: z.string().trim().min(1).max(20), from: z.number().min(0).max(1000) })).max(40),
});

export type Category = z.infer<typeof Category>;
export type Grading = z.infer<typeof Grading>;
