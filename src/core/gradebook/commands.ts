/** How marks come together: categories, what missing counts, the scale. Source: semantics.md section 7. */
import { z } from "zod";
import { defineCommand, put, refuse } from "../plan/command.ts";
import { withCourse } from "../plan/tables.ts";
import { Course, Id, type Item } from "../plan/types.ts";

export const gradebookCommands = [
  defineCommand(
    "course.grading",
    { grading: Course.shape.grading, categoryOf: z.record(Id, Id.nullable()) },
    {
      apply(plan, { grading, categoryOf }) {
        const names = grading.categories.map(({ name }) => name.trim().toLowerCase());
        if (new Set(names).size < names.length)
          return refuse("category.twice", "Two categories have one name. Give each its own.");
        const known = new Set(grading.categories.map(({ id }) => id));
        for (const [itemId, categoryId] of Object.entries(categoryOf)) {
          if (!plan.items[itemId]) return refuse("item.gone", "One of these columns is no longer there.");
          if (categoryId !== null && !known.has(categoryId))
            return refuse("category.gone", "A column is in a category that is not there.");
        }
        // A category that goes leaves its columns in none.
        const moved = Object.values(plan.items).flatMap((item): Item[] => {
          const wanted = item.id in categoryOf ? (categoryOf[item.id] ?? null) : item.categoryId;
          const next = wanted !== null && known.has(wanted) ? wanted : null;
          return next === item.categoryId ? [] : [{ ...item, categoryId: next }];
        });
        return put(withCourse(plan, { grading }), "items", moved);
      },
      describe: (_, { grading }) =>
        grading.categories.length === 0
          ? `Totals over all columns, missing ${grading.missingIsZero ? "as zero" : "not counted"}`
          : `Totals of ${grading.categories.map(({ name, weight }) => `${name} ${weight}`).join(", ")}, missing ${grading.missingIsZero ? "as zero" : "not counted"}`,
    },
  ),
] as const;
