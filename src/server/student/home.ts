/** What somebody has due in the next two weeks, over all the courses that they are a student of. */
import { studentDue, studentPage } from "../../core/reach/student-page.ts";
import { fieldTitle } from "../../core/timing/typing/dates-file.ts";
import { now } from "../clock.ts";
import { type CourseOf, course } from "../store/courses.ts";
import { studentProgress } from "../store/progress.ts";

export interface DueSoon {
  courseId: string;
  code: string;
  itemId: string;
  title: string;
  /** "due Fri 4 Dec, 17:00". */
  says: string;
  at: number;
}

/** Days that are looked ahead. */
const days = 14;

/** The first due first; each as it is for that student. */
export async function dueSoon(courses: CourseOf[]): Promise<DueSoon[]> {
  const own = courses.filter(({ role }) => role === "student");
  const found = await Promise.all(own.map(dueIn));
  return found.flat().sort((a, b) => a.at - b.at);
}

async function dueIn({ course: { id: courseId }, personId }: CourseOf): Promise<DueSoon[]> {
  const stored = await course(courseId);
  if (!stored) return [];
  const { plan } = stored;
  const t = now();
  const page = studentPage(plan, await studentProgress(courseId, personId, plan), personId, t);
  if (!page) return [];
  return studentDue(page).flatMap(({ id, title, kind, dates }): DueSoon[] => {
    const due = dates.find(({ field }) => field === "due");
    if (!due?.at || due.at > t + days * 86_400_000) return [];
    const says = `${fieldTitle("due", kind).toLowerCase()} ${due.says}`;
    return [{ courseId, code: plan.course.code, itemId: id, title, says, at: due.at }];
  });
}
