/** Logins that would belong to two people. Source: semantics.md section 2. */

import { fold } from "../text/caseless.ts";
import type { RosterIdentity } from "./known.ts";
import type { Judging } from "./verdict.ts";

const fieldNames = { username: "username", email: "e-mail" };
type Field = keyof typeof fieldNames;

/** Whether some row brings a login that its person does not have yet. */
const isBrought = (judging: Judging, field: Field): boolean =>
  [...judging.changes.values()].some((changes) => changes.some((change) => change.field === field)) ||
  (judging.ids.hasNew && judging.rows.some((row, at) => !judging.known[at]?.person && row[field] !== ""));

/** Who would have each login, folded, if the open rows were taken in; kept true while rows are settled. */
class Holders {
  private readonly holders = new Map<string, Set<RosterIdentity>>();
  private readonly claims = new Map<RosterIdentity, string>();
  constructor(
    private readonly judging: Judging,
    private readonly field: Field,
  ) {
    for (const known of judging.ids) this.claim(known);
  }
  of = (value: string): ReadonlySet<RosterIdentity> => this.holders.get(value) ?? nobody;

  /** Notes what somebody would have now; gives the login that became theirs, if it is another one. */
  claim(known: RosterIdentity): string | null {
    const { judging, field } = this;
    const row = judging.ids.isListed(known) ? judging.openRows(known).find((one) => one.row[field] !== "") : undefined;
    const value = fold(row?.row[field] ?? known.person?.[field] ?? "");
    const before = this.claims.get(known) ?? "";
    if (value === before) return null;
    this.holders.get(before)?.delete(known);
    this.claims.set(known, value);
    if (value === "") return null;
    const others = this.holders.get(value);
    if (others) others.add(known);
    else this.holders.set(value, new Set([known]));
    return value;
  }
}
const nobody: ReadonlySet<RosterIdentity> = new Set();

/** The numbers of the open rows that bring each login, folded. */
function rowsByLogin(judging: Judging, field: Field): Map<string, number[]> {
  const rows = new Map<string, number[]>();
  for (const [at, row] of judging.rows.entries()) {
    if (row[field] === "" || !judging.isOpen(at)) continue;
    const value = fold(row[field]);
    const list = rows.get(value);
    if (list) list.push(at);
    else rows.set(value, [at]);
  }
  return rows;
}

/** "A and B", and of many the first ones: each of a thousand rows would name a thousand others. */
function sayOthers(all: ReadonlySet<RosterIdentity>, own: RosterIdentity): string {
  const named: string[] = [];
  for (const other of all) {
    if (other !== own) named.push(other.sourcedId);
    if (named.length === 3) break;
  }
  const more = all.size - Number(all.has(own)) - named.length;
  return `${named.join(" and ")}${more > 0 ? ` and ${more} more` : ""}`;
}

/** Settles the open rows of a login that others would have too; gives their numbers. */
function settleClashes(
  judging: Judging,
  field: Field,
  rows: readonly number[],
  all: ReadonlySet<RosterIdentity>,
): number[] {
  const clashing = rows.filter((at) => {
    const own = judging.known[at] as RosterIdentity;
    const value = judging.rows[at]?.[field] ?? "";
    // Whoever has it, and whose own row keeps it, stands beside others who claim it.
    return judging.isOpen(at) && fold(own.person?.[field] ?? "") !== fold(value);
  });
  for (const at of clashing) {
    const others = sayOthers(all, judging.known[at] as RosterIdentity);
    judging.settle(at, "clash", `${fieldNames[field]} ${judging.rows[at]?.[field]} belongs to ${others}`);
  }
  return clashing;
}

/** The clashes over one kind of login, asked in rounds. */
class Clashes {
  private readonly rows: ReadonlyMap<string, number[]>;
  private readonly holders: Holders;
  /** Logins to ask about: those that rows bring, later those that became somebody's. */
  private asked: Set<string>;
  /** Whose rows were settled since the last round: they may have another login now. */
  readonly fell = new Set<RosterIdentity>();
  constructor(
    private readonly judging: Judging,
    private readonly field: Field,
  ) {
    this.rows = rowsByLogin(judging, field);
    this.holders = new Holders(judging, field);
    this.asked = new Set(this.rows.keys());
  }
  get isDone(): boolean {
    return this.asked.size + this.fell.size === 0;
  }
  /** Settles what clashes as it stands now; gives whose rows those are. */
  settle(): RosterIdentity[] {
    for (const known of this.fell) {
      const value = this.holders.claim(known);
      if (value !== null) this.asked.add(value);
    }
    this.fell.clear();
    const asked = this.asked;
    this.asked = new Set();
    return [...asked].flatMap((value) => {
      const all = this.holders.of(value);
      const rows = all.size < 2 ? [] : settleClashes(this.judging, this.field, this.rows.get(value) ?? [], all);
      if (rows.length > 0) this.judging.meansAnyOf([...all], rows);
      return rows.map((at) => this.judging.known[at] as RosterIdentity);
    });
  }
}

/**
 * Clashes are judged on the state that the usable rows would leave. A row that clashes is not used, so its person
 * keeps the old login, which may clash with another row: the logins that became somebody's are asked again until
 * nothing more falls. Stored logins are unique, so only rows which bring another one can make a clash.
 */
export function judgeClashes(judging: Judging): void {
  const fields = (["username", "email"] as const)
    .filter((field) => isBrought(judging, field))
    .map((field) => new Clashes(judging, field));
  while (!fields.every(({ isDone }) => isDone))
    for (const one of fields) for (const known of one.settle()) for (const { fell } of fields) fell.add(known);
}
