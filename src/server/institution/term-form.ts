/** A term out of a form. */
import { Term } from "../../api/institution.ts";
import { readNoClassDays } from "../../core/timing/typing/no-class-days.ts";

const labels: Record<string, string> = {
  name: "Name",
  starts: "First day",
  ends: "Last day",
  workUntil: "Students' work is kept until",
  coursesUntil: "Courses are kept until",
};

/** The term, or a sentence that says what is wrong with which field. */
export function readTerm(said: (name: string) => string): { term: Term } | { wrong: string } {
  const read = readNoClassDays(said("noClassDays"));
  if ("wrong" in read) return { wrong: `Days without class. ${read.wrong}` };
  const parsed = Term.safeParse({
    name: said("term"),
    starts: said("starts"),
    ends: said("ends"),
    noClassDays: read.days,
    workUntil: said("workUntil") || null,
    coursesUntil: said("coursesUntil") || null,
  });
  if (parsed.success) return { term: parsed.data };
  const [first] = parsed.error.issues;
  const field = String(first?.path[0] ?? "");
  return { wrong: `${labels[field] ?? "The term"}: ${first?.message ?? "not as expected"}.` };
}
