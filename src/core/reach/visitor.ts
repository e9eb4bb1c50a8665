/** What a visitor reads: what is for everyone, minus nobody. Source: semantics.md sections 3 and 9. */
import { foldersAbove } from "../plan/lookup.ts";
import { noProgress } from "../plan/progress.ts";
import type { Item, Plan } from "../plan/types.ts";
import { type StudentPage, studentPage } from "./student-page.ts";

const isForAll = ({ audience }: Item): boolean => audience.to === "everyone" && audience.minus.length === 0;

/** The outline without whatever is for some, or lies in a folder that is. */
function forAll(plan: Plan): Plan {
  const items = Object.fromEntries(
    Object.entries(plan.items).filter(([, item]) => isForAll(item) && foldersAbove(plan, item).every(isForAll)),
  );
  const entrances = Object.fromEntries(
    Object.entries(plan.entrances).filter(
      ([, { itemId, folderId }]) => items[itemId] && (folderId === null || items[folderId]),
    ),
  );
  return { ...plan, items, entrances };
}

/**
 * The page of a visitor at t: that of somebody in no section and no group, who did nothing and does nothing. Null where
 * the person is no visitor then.
 */
export function visitorPage(plan: Plan, personId: string, t: number): StudentPage | null {
  const enrolments = Object.fromEntries(
    Object.entries(plan.enrolments).map(([id, row]) => [
      id,
      row.personId === personId && row.role === "visitor" ? { ...row, role: "student" as const, sectionId: null } : row,
    ]),
  );
  const placements = Object.fromEntries(Object.entries(plan.placements).filter(([, row]) => row.personId !== personId));
  const page = studentPage({ ...forAll(plan), enrolments, placements }, noProgress, personId, t);
  return page && { ...page, visits: true };
}
