/** What somebody has due, over all the courses that they are a student of. */
import { studentDue, studentPage } from "../../core/reach/student-page.ts";
import { fieldTitle } from "../../core/timing/field-titles.ts";
import { now } from "../clock.ts";
import { type CourseOf, course } from "../store/courses.ts";
import { studentProgress } from "../store/progress.ts";

export interface Due {
  courseId: string;
  code: string;
  itemId: string;
  title: string;
  /** "due Fri 4 Dec, 17:00". */
  says: string;
  at: number;
}

/** Days that the first page looks ahead. */
export const soonDays = 14;

/** The first due first; each as it is for that student. `days`: how far ahead. */
export async function dueIn(courses: readonly CourseOf[], days = Number.POSITIVE_INFINITY): Promise<Due[]> {
  const own = courses.filter(({ role }) => role === "student");
  const found = await Promise.all(own.map((one) => dueOf(one, days)));
  return found.flat().sort((a, b) => a.at - b.at);
}

async function dueOf({ course: { id: courseId }, personId }: CourseOf, days: number): Promise<Due[]> {
  const stored = await course(courseId);
  if (!stored) return [];
  const { plan } = stored;
  const t = now();
  const page = studentPage(plan, await studentProgress(courseId, personId, plan), personId, t);
  if (!page) return [];
  return studentDue(page).flatMap(({ id, title, kind, dates }): Due[] => {
    const due = dates.find(({ field }) => field === "due");
    if (!due?.at || due.at > t + days * 86_400_000) return [];
    const says = `${fieldTitle("due", kind).toLowerCase()} ${due.says}`;
    return [{ courseId, code: plan.course.code, itemId: id, title, says, at: due.at }];
  });
}
