/** The terms of the institution, and their days without class. */
import type { PoolConnection } from "mysql2/promise";
import type { Term } from "../../api/institution.ts";
import { fromJson, parameters, rows, run, transaction } from "../store/database.ts";

export interface StoredTerm extends Term {
  id: string;
  /** How many courses bear its name, and in how many of them words and files of students are kept. */
  courses: number;
  withWork: number;
}

/** All terms, the latest first. */
export async function termsOf(): Promise<StoredTerm[]> {
  const found = await rows<Omit<StoredTerm, "noClassDays"> & { noClassDays: string }>(
    `SELECT t.id, t.name, t.starts, t.ends, t.no_class_days AS noClassDays, t.work_until AS workUntil,
       t.courses_until AS coursesUntil, COUNT(c.id) AS courses, COALESCE(SUM(c.id IS NOT NULL AND c.work_gone_at IS NULL), 0) AS withWork
     FROM terms t LEFT JOIN courses c ON c.term = t.name GROUP BY t.id ORDER BY t.starts DESC, t.name`,
  );
  return found.map((term) => ({
    ...term,
    noClassDays: fromJson<Term["noClassDays"]>(term.noClassDays),
    courses: Number(term.courses),
    withWork: Number(term.withWork),
  }));
}

/** The term that a new course most likely belongs to: that of a day, or the next one, or the last there was. */
export function usualTerm<Kind extends Pick<Term, "starts" | "ends">>(terms: Kind[], day: string): Kind | null {
  const byStart = [...terms].sort((a, b) => (a.starts < b.starts ? -1 : 1));
  return (
    byStart.findLast(({ starts, ends }) => starts <= day && day <= ends) ??
    byStart.find(({ starts }) => starts > day) ??
    byStart.at(-1) ??
    null
  );
}

/** Who says something of a term, and when. */
export interface Said {
  /** Null where nobody has an account yet. */
  by: string | null;
  at: number;
}
const columns = [
  ...["name", "starts", "ends", "no_class_days", "work_until", "courses_until"],
  ...["retention_set_at", "retention_set_by"],
];
const valuesOf = ({ name, starts, ends, noClassDays, workUntil, coursesUntil }: Term, { by, at }: Said) => [
  ...[name, starts, ends, JSON.stringify(noClassDays), workUntil, coursesUntil],
  ...[at, by],
];

export const insertTerm = (id: string, term: Term, said: Said, connection: PoolConnection): Promise<number> =>
  run(
    `INSERT INTO terms (${columns.join(", ")}, id) VALUES (${parameters([...columns, "id"])})`,
    [...valuesOf(term, said), id],
    connection,
  );

interface Kept {
  setAt: number;
  setBy: string | null;
}
export type TermAnswer = { kept: true } | { wrong: string };

/**
 * Keeps a term, new or changed. Courses that there are keep their own days: they are changed where their coordinators look.
 * Two terms of one name are refused.
 */
export const keepTerm = (id: string, term: Term, said: Said): Promise<TermAnswer> =>
  transaction(async (connection): Promise<TermAnswer> => {
    const all = await rows<Pick<StoredTerm, "id" | "name" | "workUntil" | "coursesUntil"> & Kept>(
      `SELECT id, name, work_until AS workUntil, courses_until AS coursesUntil, retention_set_at AS setAt,
         retention_set_by AS setBy FROM terms FOR UPDATE`,
      [],
      connection,
    );
    const same = all.find((one) => one.id !== id && one.name.toLowerCase() === term.name.toLowerCase());
    if (same) return { wrong: `There is a term "${same.name}" already. Choose another name, or change that one.` };
    const was = all.find((one) => one.id === id);
    if (!was) await insertTerm(id, term, said, connection);
    else {
      // Its week of grace begins anew where a day is another one.
      const isSame = was.workUntil === term.workUntil && was.coursesUntil === term.coursesUntil;
      await run(
        `UPDATE terms SET ${columns.map((name) => `${name} = ?`).join(", ")} WHERE id = ?`,
        [...valuesOf(term, isSame ? { by: was.setBy, at: was.setAt } : said), id],
        connection,
      );
    }
    return { kept: true };
  });

/** Removes a term that no course bears; false where one does, or where there is none such. */
export const removeTerm = async (id: string): Promise<boolean> =>
  (await run("DELETE FROM terms WHERE id = ? AND NOT EXISTS (SELECT 1 FROM courses c WHERE c.term = terms.name)", [
    id,
  ])) > 0;
