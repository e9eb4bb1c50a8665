/** Rows that repeat an id or share a login, judged as section 2 says it pair by pair, slowly; and many of them in little time. */
import fc from "fast-check";
import { expect, test } from "vitest";
import type { Plan } from "../plan/types.ts";
import { addSection, addStudent, coursePlan, t0 } from "../tests/fixture.ts";
import { reconcile } from "./reconcile.ts";
import type { RosterRow } from "./rows.ts";
import { wholeRoster } from "./verdict.ts";

const options = { ...wholeRoster, now: t0 };
const sections = ["D1", "EV"];

function course(): Plan {
  const plan = coursePlan();
  for (const code of sections) addSection(plan, code);
  for (const name of ["ada", "ben", "cas"]) addStudent(plan, name, ["D1"]);
  for (const person of Object.values(plan.people)) person.username = person.id;
  return plan;
}
type Said = Pick<RosterRow, "sourcedId" | "sectionCode" | "username" | "givenName" | "role">;
const rowsOf = (said: readonly Said[]): RosterRow[] =>
  said.map((one, at) => ({
    ...{
      file: "f",
      line: at + 2,
      email: "",
      familyName: "",
      sectionTitle: "",
      meets: "",
      attributes: {},
      problem: null,
    },
    ...one,
  }));

/** Whether two rows of one id contradict each other. */
function contradict(a: RosterRow, b: RosterRow): boolean {
  const fields = ["username", "givenName"] as const;
  const isOther = fields.some((field) => a[field] !== "" && b[field] !== "" && a[field] !== b[field]);
  if (a.sectionCode !== b.sectionCode) return isOther;
  return isOther || a.role !== b.role || fields.some((field) => (a[field] === "") !== (b[field] === ""));
}

/** Which rows are repeats and which clash, each pair looked at, again and again until nothing more falls. */
function slowly(plan: Plan, rows: RosterRow[]): string[] {
  const verdicts = rows.map(() => "open");
  const isOpen = (at: number) => verdicts[at] === "open";
  for (const [at, row] of rows.entries()) {
    const own = rows.filter(({ sourcedId }) => sourcedId === row.sourcedId);
    const isConflict = own.some((a) => own.some((b) => a !== b && contradict(a, b)));
    const isRepeat = rows.slice(0, at).some((b) => b.sourcedId === row.sourcedId && b.sectionCode === row.sectionCode);
    if (isConflict || isRepeat) verdicts[at] = "duplicate";
  }
  const known = Object.values(plan.people);
  const storedOf = (id: string) => known.find(({ sourcedId }) => sourcedId === id)?.username ?? "";
  const ids = [...new Set([...known, ...rows].map(({ sourcedId }) => sourcedId))];
  for (let again = true; again; ) {
    again = false;
    const claims = new Map(
      ids.map((id) => {
        const row = rows.find((one, at) => one.sourcedId === id && isOpen(at) && one.username !== "");
        return [id, row?.username ?? storedOf(id)];
      }),
    );
    for (const [at, { sourcedId, username }] of rows.entries()) {
      const others = ids.filter((id) => id !== sourcedId && claims.get(id) === username);
      if (!isOpen(at) || username === "" || others.length === 0 || storedOf(sourcedId) === username) continue;
      verdicts[at] = "clash";
      again = true;
    }
  }
  return verdicts;
}

test("repeats and clashes are those of every pair of rows", () => {
  const plan = course();
  const said = fc.record({
    sourcedId: fc.constantFrom("00ada", "00ben", "00cas", "01", "02", "03"),
    sectionCode: fc.constantFrom(...sections),
    username: fc.constantFrom("", "", "ada", "ben", "cas", "new"),
    givenName: fc.constantFrom("", "x", "x", "y"),
    role: fc.constantFrom("student" as const, "student" as const, "instructor" as const),
  });
  fc.assert(
    fc.property(fc.array(said, { maxLength: 12 }), (all) => {
      const rows = rowsOf(all);
      const judged = reconcile(plan, rows, options).rows.map(({ verdict }) =>
        verdict === "duplicate" || verdict === "clash" ? verdict : "open",
      );
      expect(judged).toEqual(slowly(plan, rows));
    }),
    { numRuns: 400 },
  );
});

const many = 4000;
const blank: Said = { sourcedId: "", sectionCode: "D1", username: "", givenName: "", role: "student" };
test.each<[string, (at: number) => Partial<Said>]>([
  ["one id, all the same", () => ({ sourcedId: "00ada" })],
  ["one id, every row another name", (at) => ({ sourcedId: "00ada", givenName: `n${at}` })],
  ["one id in ever new sections", (at) => ({ sourcedId: "00ada", sectionCode: `S${at}` })],
  ["one login for everybody", (at) => ({ sourcedId: `x${at}`, username: "shared" })],
  [
    "a chain of logins, each taken from the next",
    (at) => ({ sourcedId: `x${at}`, username: `l${Math.floor(at / 2)}` }),
  ],
])("four thousand rows of %s take little longer than as many good ones", (_, row) => {
  const time = (make: (at: number) => Partial<Said>) => {
    const rows = rowsOf(Array.from({ length: many }, (_, at) => ({ ...blank, ...make(at) })));
    const accepted = { ...options, acceptedSections: rows.map(({ sectionCode }) => sectionCode) };
    const begun = performance.now();
    expect(reconcile(course(), rows, accepted).rows).toHaveLength(many);
    return performance.now() - begun;
  };
  const good = Math.min(...[1, 2, 3].map(() => time((at) => ({ sourcedId: `g${at}`, givenName: "g" }))));
  // A quadratic pass over four thousand takes half a minute.
  expect(time(row)).toBeLessThan(10 * good + 500);
});
