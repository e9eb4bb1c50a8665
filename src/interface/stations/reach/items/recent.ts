/** Audiences that were drafted lately in this course, kept in this browser. */
import { same } from "../../../../core/plan/difference.ts";
import { Audience, type Plan, type Target } from "../../../../core/plan/types.ts";

const most = 5;
const keyOf = (courseId: string) => `audiences ${courseId}`;

const isThere = (plan: Plan, { kind, id }: Target): boolean =>
  Boolean({ group: plan.groups, section: plan.sections, person: plan.people, set: plan.sets }[kind][id]);

export function recentAudiences(plan: Plan): Audience[] {
  try {
    const stored = Audience.array().safeParse(JSON.parse(localStorage.getItem(keyOf(plan.course.id)) ?? "[]"));
    return stored.success
      ? stored.data.filter(({ to, minus }) =>
          [...(to === "everyone" ? [] : to), ...minus].every((one) => isThere(plan, one)),
        )
      : [];
  } catch {
    return [];
  }
}

/** Everyone, without exception, is always at hand and need not be remembered. */
export function rememberAudience(plan: Plan, audience: Audience): void {
  if (audience.to === "everyone" && audience.minus.length === 0) return;
  const others = recentAudiences(plan).filter((one) => !same(one, audience));
  localStorage.setItem(keyOf(plan.course.id), JSON.stringify([audience, ...others].slice(0, most)));
}
