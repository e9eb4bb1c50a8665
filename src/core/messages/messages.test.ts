import { expect, test } from "vitest";
import type { Plan, Target } from "../plan/types.ts";
import {
  addItem,
  addLayer,
  addSection,
  addStudent,
  coursePlan,
  forOnly,
  group,
  person,
  section,
  t0,
} from "../tests/fixture.ts";
import { blankMessage, type Message, mailOf, recipientsOf } from "./message.ts";
import { fillPlaceholders, offeredDatePlaceholders, offeredPlaceholders, placeholderMistakes } from "./placeholders.ts";
import { staffToWriteTo } from "./to-staff.ts";

function course(): Plan {
  const plan = coursePlan();
  for (const code of ["D1", "EV"]) addSection(plan, code);
  addLayer(plan, "Teams", ["Otter", "Heron"]);
  addStudent(plan, "ada", ["D1"], ["Otter"]);
  addStudent(plan, "ben", ["EV"], ["Heron"]);
  addStudent(plan, "cas", ["EV"]);
  addStudent(plan, "ida", ["D1"]);
  const teaches = plan.enrolments["ida in D1"];
  if (teaches) teaches.role = "instructor";
  addStudent(plan, "sam", [], ["Otter"]);
  const helps = plan.enrolments["sam in null"];
  if (helps) helps.role = "support";
  addItem(plan, "lab", { title: "Lab 1", dates: { due: "2026-12-01T17:00" }, audience: forOnly(group("Otter")) });
  return plan;
}
const message = (to: Target[], more: Partial<Message> = {}): Message => ({
  ...blankMessage,
  id: "m",
  subject: "s",
  body: "b",
  to,
  ...more,
});
const who = (plan: Plan, one: Message) => recipientsOf(plan, one, t0).map(({ personId }) => personId);

test("groups, sections, people and the unplaced of a layer get it, each once; staff where they are wanted", () => {
  const plan = course();
  plan.sets.both = { id: "both", name: "Both", groupIds: ["Otter", "Heron"] };
  expect(who(plan, message([group("Otter"), section("D1"), person("ada")]))).toEqual(["ada"]);
  expect(who(plan, message([{ kind: "set", id: "both" }]))).toEqual(["ada", "ben"]);
  expect(who(plan, message([], { unplacedIn: ["Teams"] }))).toEqual(["cas"]);
  expect(who(plan, message([group("Otter"), section("D1")], { withStaff: true }))).toEqual(["ada", "ida", "sam"]);
  expect(who(plan, message([person("ida"), person("gone")]))).toEqual(["ida"]);
  expect(who(plan, message([]))).toEqual([]);
});
test("whoever left gets nothing, and an address that two share gets it once", () => {
  const plan = course();
  const [left, other] = [plan.enrolments["ben in EV"], plan.people.cas];
  if (left) left.until = t0;
  if (other) other.email = "ADA@x.example";
  expect(recipientsOf(plan, message([section("EV"), person("ada")]), t0)).toEqual([
    { personId: "ada", address: "ada@x.example" },
    { personId: "cas", address: null },
  ]);
});
test("each reads their own group, code and date, and nobody the date of a thing that is not for them", () => {
  const plan = course();
  const otter = plan.groups.Otter;
  if (otter) Object.assign(otter, { code: "weir-7", label: "Team Otter" });
  const read = fillPlaceholders(
    plan,
    "{given name} {name}: {group of teams}, {code of Teams}, {due of lab 1}, {opens of Lab 1}; {course}",
    t0,
  );
  expect(read("ada")).toBe(
    "ada ada Test: Team Otter, weir-7, Tue 1 Dec, 17:00, no date; WSH 240 Watershed Field Methods",
  );
  expect(read("ben")).toMatch(/: Heron, no code, no date, no date;/);
  expect(read("cas")).toMatch(/: no group yet, no code, no date/);
  expect(fillPlaceholders(plan, "Nothing {to fill}", t0)("ada")).toBe("Nothing {to fill}");
});
test("limits are each one's own: extra time is in their minutes, and what is not for them has none", () => {
  const plan = course();
  addItem(plan, "quiz", {
    kind: "quiz",
    title: "Quiz 1",
    audience: forOnly(group("Otter"), group("Heron")),
    dates: { minutes: 25, attempts: 2 },
  });
  plan.allowances.more = {
    id: "more",
    target: group("Otter"),
    minutesFactor: "1.5",
    extraDays: null,
    extraAttempts: 1,
  };
  const read = fillPlaceholders(plan, "{minutes of quiz 1} minutes, {attempts of Quiz 1} attempts", t0);
  expect(read("ada")).toBe("38 minutes, 3 attempts");
  expect(read("ben")).toBe("25 minutes, 2 attempts");
  expect(read("cas")).toBe("no limit minutes, no limit attempts");
  expect(offeredDatePlaceholders(plan).map(({ id }) => id)).toEqual(
    expect.arrayContaining(["minutes of Quiz 1", "attempts of Quiz 1"]),
  );
});
test("what stands for nothing is told with its place", () => {
  expect(placeholderMistakes(course(), "Dear {nam}, see {group of Boats} and {due of Lab 9}")).toEqual([
    { position: 5, says: '"{nam}" stands for nothing. Use {name}, {group of Teams}, {due of an item}.' },
    { position: 16, says: 'There is no layer called "Boats".' },
    { position: 37, says: 'There is no item called "Lab 9".' },
  ]);
  const hidden = course();
  addLayer(hidden, "Plans", ["Extra time"], { private: true });
  expect(placeholderMistakes(hidden, "{group of Plans}")).toMatchObject([
    { says: expect.stringMatching(/^Plans is private/) },
  ]);
  expect(offeredPlaceholders(hidden)).not.toContain("{group of Plans}");
  for (const blank of offeredPlaceholders(course())) expect(placeholderMistakes(course(), blank)).toEqual([]);
});

test("a student may write to whoever teaches them, else to the coordinators, and to nobody where it is not allowed", () => {
  const plan = course();
  const staff = (personId: string) => staffToWriteTo(plan, personId, t0).map(({ id }) => id);
  expect(staff("ada")).toEqual([]);
  plan.course.mayWriteToStaff = true;
  expect(staff("ada")).toEqual(["ida"]);
  // Sam supports Otter: that somebody has support is nobody's to be told.
  expect(staff("ben")).toEqual([]);
  addStudent(plan, "cor", []);
  const runs = plan.enrolments["cor in null"];
  if (runs) runs.role = "coordinator";
  expect(staff("ben")).toEqual(["cor"]);
  const teaches = plan.enrolments["ida in D1"];
  if (teaches) teaches.until = t0;
  expect(staff("ada")).toEqual(["cor"]);
});
test("a mail says beneath its words who wrote it, in which course, about what, and where it is read", () => {
  const head = { sender: "Ida Test", course: "WSH 240 Watershed", item: null, address: null };
  expect(mailOf("Hello\n", head)).toBe("Hello\n\n-- \nIda Test, WSH 240 Watershed");
  const item = { title: "Lab 1", address: "https://x.example/course/c/item/i" };
  const address = "https://x.example/course/c/notices";
  expect(mailOf("Hello", { ...head, sender: head.course, item, address })).toBe(
    `Hello\n\n-- \nWSH 240 Watershed\nLab 1: ${item.address}\nAll that you were written in this course: ${address}`,
  );
});
