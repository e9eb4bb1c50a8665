/** A list held against the course, a section or a group, changing nothing. Source: semantics.md section 2. */

import type { TextTable } from "../formats/text-table.ts";
import { compareNames, fullName, holdsAt, lookup } from "../plan/lookup.ts";
import type { Person, Plan } from "../plan/types.ts";
import { fold } from "../text/caseless.ts";
import { isolated } from "../text/names.ts";
import type { ColumnMatch } from "./columns.ts";
import { splitName } from "./rows.ts";

/** What a list is held against. */
export type Scope = { kind: "course" } | { kind: "section" | "group"; id: string };

export interface Listed {
  file: string;
  line: number;
  /** What the line says, as far as it was recognised. */
  says: string;
}
export interface Comparison {
  /** In the scope and on the list, by name. */
  both: { person: Person; listed: Listed }[];
  /** On the list only: who it is where the course knows them, otherwise null. */
  onlyList: { person: Person | null; listed: Listed }[];
  /** In the scope only. */
  onlyHere: Person[];
  /** Lines that could be several people (a name that two share), or that name somebody again. */
  unclear: { listed: Listed; why: string }[];
}

/** Students of a scope at t. */
export function membersOf(plan: Plan, scope: Scope, t: number): Set<string> {
  const open = Object.values(plan.enrolments).filter((row) => row.role === "student" && holdsAt(row, t));
  const enrolled = new Set(
    open.filter(({ sectionId }) => scope.kind !== "section" || sectionId === scope.id).map(({ personId }) => personId),
  );
  if (scope.kind !== "group") return enrolled;
  const placed = (lookup(plan).placementsOfGroup.get(scope.id) ?? []).filter((row) => holdsAt(row, t));
  return new Set(placed.map(({ personId }) => personId).filter((id) => enrolled.has(id)));
}

/** Everyone by each thing a list may name them by; a key that two share leads to both. */
function index(people: Person[]): Map<string, Person[]> {
  const found = new Map<string, Person[]>();
  const add = (kind: string, value: string | null, person: Person) => {
    if (!value) return;
    const key = `${kind} ${fold(value)}`;
    const list = found.get(key);
    if (!list) found.set(key, [person]);
    else if (!list.includes(person)) list.push(person);
  };
  for (const person of people) {
    add("id", person.sourcedId, person);
    add("email", person.email, person);
    add("username", person.username, person);
    add("name", `${person.familyName}\n${person.givenName}`, person);
  }
  return found;
}

/**
 * Lines are matched by id, then e-mail, then username, then whole name; a list of one column may hold any of them,
 * line by line. `match` says what the columns are.
 */
export function compareList(
  plan: Plan,
  tables: { table: TextTable; match: ColumnMatch }[],
  scope: Scope,
  t: number,
): Comparison {
  const members = membersOf(plan, scope, t);
  const known = index(Object.values(plan.people));
  const result: Comparison = { both: [], onlyList: [], onlyHere: [], unclear: [] };
  const seen = new Map<string, number>();
  for (const { table, match } of tables) {
    for (const [row, cells] of table.rows.entries()) {
      const line = table.lines[row] as number;
      const cell = (field: ColumnMatch[number]) => cells[match.indexOf(field)] ?? "";
      const whole = cell("fullName");
      const name = whole ? splitName(whole) : { familyName: cell("familyName"), givenName: cell("givenName") };
      const keys = [
        ["id", cell("id")],
        ["email", cell("email")],
        ["username", cell("username")],
        ["name", name.familyName || name.givenName ? `${name.familyName}\n${name.givenName}` : ""],
        // A bare column of one kind or another.
        ...cells.map((text) => ["id", text]),
        ...cells.map((text) => ["email", text]),
        ...cells.map((text) => ["username", text]),
        ...cells.map((text) => {
          const { familyName, givenName } = splitName(text);
          return ["name", `${familyName}\n${givenName}`];
        }),
      ];
      const listed = {
        file: table.name,
        line,
        says: cells.filter(Boolean).join(", "),
      };
      const hit = keys
        .filter(([, value]) => value)
        .map(([kind, value]) => known.get(`${kind} ${fold(value as string)}`))
        .find(Boolean);
      // A name that two share means the one who is here, where only one of them is.
      const here = hit?.filter(({ id }) => members.has(id)) ?? [];
      const person = hit?.length === 1 ? hit[0] : here.length === 1 ? here[0] : null;
      if (hit && !person) {
        const who = hit.map((one) => `${isolated(fullName(one))} (${one.sourcedId})`).join(" or ");
        result.unclear.push({ listed, why: `could be ${who}` });
      } else if (person && seen.has(person.id)) {
        result.unclear.push({
          listed,
          why: `names ${isolated(fullName(person))} again, as line ${seen.get(person.id)} does`,
        });
      } else if (person && members.has(person.id)) {
        seen.set(person.id, line);
        result.both.push({ person, listed });
      } else {
        if (person) seen.set(person.id, line);
        result.onlyList.push({ person: person ?? null, listed });
      }
    }
  }
  result.onlyHere = [...members]
    .filter((id) => !seen.has(id))
    .map((id) => plan.people[id])
    .filter((person) => person !== undefined)
    .sort(compareNames);
  result.both.sort((a, b) => compareNames(a.person, b.person));
  return result;
}
