/** Who may begin an attempt, and whose it is. Source: semantics.md section 7, attempts. */
import { describe, expect, test } from "vitest";
import { instantOf } from "../clock/local-time.ts";
import { blankQuiz, type Quiz } from "../plan/questions.ts";
import type { Plan } from "../plan/types.ts";
import { addItem, addLayer, addSection, addStudent, coursePlan, group, t0, zone } from "../tests/fixture.ts";
import { answersShown } from "../timing/answers-shown.ts";
import { membershipsAt } from "../timing/resolving/resolve.ts";
import { holderOf, isInAttempts, isInAttemptsForSome, isWord, whyNotBegin } from "./beginning.ts";
import { newQuestion, withQuestion } from "./editing.ts";

const quiz: Quiz = withQuestion(
  null,
  newQuestion("long", () => "question"),
  () => "part",
);
function course(): Plan {
  const plan = coursePlan();
  addSection(plan, "D1");
  addLayer(plan, "Banks", ["North", "South"]);
  addStudent(plan, "ada", ["D1"], ["North"]);
  addStudent(plan, "ben", ["D1"], ["North"]);
  addStudent(plan, "cas", ["D1"]);
  addItem(plan, "quiz", { kind: "quiz", quiz });
  return plan;
}
const none = { minutes: null, closes: null, attempts: null, accessWord: null };
const item = (plan: Plan) => plan.items.quiz as Plan["items"][string];

test("a quiz with questions is worked on in attempts, and an assignment where it has minutes", () => {
  const plan = course();
  const lab = addItem(plan, "lab", { kind: "assignment" });
  const empty = addItem(plan, "empty", { kind: "quiz", quiz: blankQuiz });
  expect([
    isInAttempts(item(plan), none),
    isInAttempts(empty, none),
    isInAttempts(addItem(plan, "bare", { kind: "quiz" }), none),
  ]).toEqual([true, false, false]);
  expect([
    isInAttempts(lab, none),
    isInAttempts(lab, { minutes: 20 }),
    isInAttempts(addItem(plan, "page"), { minutes: 20 }),
  ]).toEqual([false, true, false]);
});

test("an assignment is worked on in attempts by some where an override alone gives them minutes", () => {
  const plan = course();
  const lab = addItem(plan, "lab", { kind: "assignment" });
  expect([isInAttemptsForSome(plan, item(plan)), isInAttemptsForSome(plan, lab)]).toEqual([true, false]);
  const override = { id: "o", itemId: "lab", target: group("North"), dates: { minutes: 30 } };
  expect(isInAttemptsForSome({ ...plan, overrides: { o: override } }, lab)).toBe(true);
  const none = { ...override, dates: { minutes: "none" as const } };
  expect(isInAttemptsForSome({ ...plan, overrides: { o: none } }, lab)).toBe(false);
});

test("an attempt is the student's, or of group work the group's; whoever is in none has none", () => {
  const plan = course();
  expect(holderOf(plan, item(plan), "ada", t0)).toEqual({ id: "ada", isGroup: false, personIds: ["ada"] });
  const shared = addItem(plan, "shared", { kind: "quiz", quiz, split: { layerId: "Banks", between: "sealed" } });
  expect(holderOf(plan, shared, "ada", t0)).toEqual({ id: "North", isGroup: true, personIds: ["ada", "ben"] });
  expect(holderOf(plan, shared, "cas", t0)).toBeNull();
  expect(whyNotBegin({ plan, item: shared, personId: "cas", t: t0, limits: none, count: 0 })).toMatch(
    /in none of its groups/,
  );
});

test("begins while it has not closed and attempts are left", () => {
  const plan = course();
  const asked = { plan, item: item(plan), personId: "ada", t: t0 };
  expect(whyNotBegin({ ...asked, limits: none, count: 99 })).toBeNull();
  expect(whyNotBegin({ ...asked, limits: { ...none, closes: t0 + 1 }, count: 0 })).toBeNull();
  expect(whyNotBegin({ ...asked, limits: { ...none, closes: t0 }, count: 0 })).toMatch(/^It closed on /);
  expect(whyNotBegin({ ...asked, limits: { ...none, attempts: 2 }, count: 1 })).toBeNull();
  expect(whyNotBegin({ ...asked, limits: { ...none, attempts: 2 }, count: 2 })).toBe("You have used 2 of 2 attempts.");
});

test("the word is compared without blanks around it, and its case counts", () => {
  expect([
    isWord("weir", " weir "),
    isWord("weir", "Weir"),
    isWord("caf\u00e9", "cafe\u0301"),
    isWord("weir", ""),
  ]).toEqual([true, false, true, false]);
});

describe("marks and right answers are shown", () => {
  const at = (wall: string) => instantOf(wall, zone);
  const shown = (plan: Plan, shows: Quiz["shows"], t: number, released = false) => {
    const row = { ...item(plan), quiz: { ...quiz, shows, released } };
    return answersShown({ ...plan, items: { quiz: row } }, row, membershipsAt(plan, "ada", t), t);
  };
  const dated = () => {
    const plan = course();
    plan.items.quiz = { ...item(plan), dates: { due: "2026-11-25T10:00", closes: "2026-11-26T10:00" } };
    plan.overrides.late = { id: "late", itemId: "quiz", target: group("South"), dates: { closes: "2026-12-01T10:00" } };
    return plan;
  };
  test("at once, or when staff say so", () => {
    expect(shown(course(), "at once", t0)).toEqual({ shown: true });
    expect(shown(course(), "when released", t0)).toEqual({ shown: false, from: null });
    expect(shown(course(), "when released", t0, true)).toEqual({ shown: true });
  });
  test("after their own due, without one after it closes, and without either at once", () => {
    const due = at("2026-11-25T10:00");
    expect(shown(dated(), "after due", due)).toEqual({ shown: false, from: due });
    expect(shown(dated(), "after due", due + 1)).toEqual({ shown: true });
    const plan = dated();
    plan.items.quiz = { ...item(plan), dates: { closes: "2026-11-26T10:00" } };
    expect(shown(plan, "after due", due)).toEqual({ shown: false, from: at("2026-11-26T10:00") });
    expect(shown(course(), "after due", due)).toEqual({ shown: true });
  });
  test("after everybody's closes: the latest that anybody has, with every extension", () => {
    const last = at("2026-12-01T10:00");
    expect(shown(dated(), "after all", at("2026-11-27T10:00"))).toEqual({ shown: false, from: last });
    expect(shown(dated(), "after all", last + 1)).toEqual({ shown: true });
    const plan = dated();
    plan.allowances.days = {
      id: "days",
      target: group("North"),
      minutesFactor: null,
      extraDays: 2,
      extraAttempts: null,
    };
    expect(shown(plan, "after all", last + 1)).toEqual({ shown: false, from: at("2026-12-03T10:00") });
    expect(shown(course(), "after all", t0)).toEqual({ shown: true });
  });
});
