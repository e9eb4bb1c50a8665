/** The stand-in for the registrar's service: what it knows, and what its filter means. */
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "vitest";
import { matches } from "./answers.ts";
import { registrarPage } from "./page.ts";
import { keepRegistrar, makeRegistrar } from "./state.ts";

test("knows the demo's four classes with their students, and four of a course that is not merged yet", () => {
  const { classes, courses, students, teachers, users, mood } = makeRegistrar();
  expect(classes.map(({ classCode }) => classCode)).toEqual(["D1", "D2", "EV", "DL", "A", "B", "C", "E"]);
  expect(classes.every(({ courseId }) => courses.some(({ sourcedId }) => sourcedId === courseId))).toBe(true);
  const enrolled = Object.entries(students).flatMap(([id, own]) => (id.startsWith("wsh240") ? own : []));
  expect(enrolled.length).toBe(104);
  expect(Object.values(students).flat().length).toBe(164);
  expect(Object.keys(teachers ?? {})).toEqual(["hyd310-a", "hyd310-b", "hyd310-c", "hyd310-e"]);
  expect(new Set(enrolled).size).toBe(enrolled.length);
  expect(enrolled.every((id) => users[id] !== undefined)).toBe(true);
  expect(Object.keys(users).length).toBeGreaterThanOrEqual(enrolled.length + 60);
  expect(mood).toBe("well");
  expect(makeRegistrar()).toEqual(makeRegistrar());
});

test("filters as the standard writes them: contains, equals, joined by OR or AND, without case", () => {
  const user = {
    sourcedId: "0042",
    username: "ada.l",
    email: "ada@x.example",
    givenName: "Ada",
    familyName: "Lovelace",
    year: "2",
  };
  expect(matches("familyName~'LOVE'", user)).toBe(true);
  expect(matches("familyName='Love'", user)).toBe(false);
  expect(matches("givenName='ben' OR username~'ada'", user)).toBe(true);
  expect(matches("givenName='ada' AND username~'ben'", user)).toBe(false);
  expect(matches("nonsense", user)).toBe(false);
});

test("its page holds every class, with a way to add, drop and move, and nothing of a name runs as markup", () => {
  const registrar = makeRegistrar();
  const [first] = registrar.students["wsh240-d1"] ?? [];
  const user = registrar.users[first ?? ""];
  if (user) user.givenName = "<script>alert(1)</script>";
  const page = registrarPage(registrar);
  expect(page).not.toContain("<script");
  expect(page).toContain("&lt;script&gt;");
  for (const code of ["D1", "D2", "EV", "DL"]) expect(page).toContain(`Add to ${code}`);
  expect(page.match(/>Drop</g)?.length).toBe(164);
});

test("what is changed is kept in its file, written whole", () => {
  const folder = mkdtempSync(join(tmpdir(), "amber-state-"));
  const file = join(folder, "registrar.json");
  const { state, save } = keepRegistrar(file);
  state.mood = "slow";
  save();
  expect(keepRegistrar(file).state.mood).toBe("slow");
  expect(JSON.parse(readFileSync(file, "utf8"))).toEqual(state);
  rmSync(folder, { recursive: true });
});
