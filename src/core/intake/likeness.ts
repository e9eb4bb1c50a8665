/**
 * Whom a row may mean beside the id that it gives: an id that lost its zeros in a spreadsheet, the same login, e-mail or
 * name. Likely the same people are asked about, never guessed; and nobody is missing whom a row may mean. Source:
 * semantics.md section 2.
 */
import { fullName } from "../plan/lookup.ts";
import type { Person } from "../plan/types.ts";
import { fold } from "../text/caseless.ts";
import type { RosterIdentity } from "./known.ts";
import { plainRow, type RosterRow } from "./rows.ts";
import { lostZeros, withoutZeros } from "./same-id.ts";
import type { Judging, Likeness, LikenessKind } from "./verdict.ts";

/** Attributes that hold a birthday, by their title. */
export const isBirthday = (title: string): boolean => /birth|^dob$/i.test(title);

const birthdayIn = (attributes: Record<string, string>): string => {
  for (const title in attributes) if (isBirthday(title)) return attributes[title] as string;
  return "";
};
const nameOf = (named: { givenName: string; familyName: string }) => fold(`${named.familyName}\n${named.givenName}`);
const isNamed = (name: string) => name !== "\n";

/** Why two may be the same, as it is said of one and of several. */
const because: Record<LikenessKind, string> = {
  zeros: "the same name, and ids that differ by leading zeros alone",
  login: "the same login",
  "e-mail": "the same name and e-mail",
  birthday: "the same name and birthday",
  section: "the same name in the same section",
};

/** Somebody known, or of an earlier row, as they are held against a row. */
interface Candidate {
  sourcedId: string;
  name: string;
  folded: string;
  username: string;
  email: string;
  birthday: string;
  /** Folded codes of the sections that list them. */
  codes: readonly string[];
  from: string;
}

type Said = Pick<Person, "sourcedId" | "givenName" | "familyName" | "username" | "email" | "attributes">;
const candidateOf = (said: Said | RosterRow, codes: readonly string[], from: string): Candidate => ({
  sourcedId: said.sourcedId,
  name: fullName(said),
  folded: nameOf(said),
  username: fold(said.username ?? ""),
  email: fold(said.email ?? ""),
  birthday: birthdayIn(said.attributes),
  codes,
  from,
});

/** What somebody may have in common with another, the likeliest first: a kind, and a text that both have. */
function traitsOf({ sourcedId, folded, username, email, birthday, codes }: Candidate): [LikenessKind, string][] {
  const traits: [LikenessKind, string][] = [];
  if (sourcedId !== "") traits.push(["zeros", withoutZeros(sourcedId)]);
  if (username !== "") traits.push(["login", username]);
  if (!isNamed(folded)) return traits;
  if (email !== "") traits.push(["e-mail", `${folded} ${email}`]);
  if (birthday !== "") traits.push(["birthday", `${folded} ${birthday}`]);
  for (const code of codes) traits.push(["section", `${folded} ${code}`]);
  return traits;
}

/** Whether a row that shares a trait with somebody is like them, or something else speaks against it. */
function isLike(kind: LikenessKind, row: Candidate, other: Candidate): boolean {
  // A name that is left out says nothing against it.
  if (kind === "zeros")
    return lostZeros(row.sourcedId, other.sourcedId) && (row.folded === other.folded || !isNamed(row.folded));
  const isOtherwiseBorn = row.birthday !== "" && other.birthday !== "" && row.birthday !== other.birthday;
  return kind !== "section" || !isOtherwiseBorn;
}

/** Candidates by their traits, so that each row is held against those alone who share one. */
class Candidates {
  private readonly by = new Map<string, Candidate[]>();
  /** `kinds`: found by these traits alone. */
  add(candidate: Candidate, kinds?: readonly LikenessKind[]): void {
    for (const trait of traitsOf(candidate)) {
      if (kinds && !kinds.includes(trait[0])) continue;
      const list = this.by.get(trait.join(" "));
      if (list) list.push(candidate);
      else this.by.set(trait.join(" "), [candidate]);
    }
  }
  /** The likeliest of whom `test` holds, by the order of the kinds. */
  find(
    one: Candidate,
    test: (kind: LikenessKind, other: Candidate) => boolean,
  ): { other: Candidate; kind: LikenessKind } | null {
    for (const trait of traitsOf(one)) {
      const [kind] = trait;
      const other = this.by.get(trait.join(" "))?.find((each) => test(kind, each));
      if (other) return { other, kind };
    }
    return null;
  }
}

const rowCandidate = (judging: Judging, row: RosterRow, at: number): Candidate =>
  candidateOf(row, [judging.code(at)], `line ${row.line}`);

/**
 * Rows that would make somebody new (or clash for a login), held against whom the course knows and the file does not
 * list, and against each other. Ids that somebody has answered for are left out.
 */
export function findLikenesses(judging: Judging, answered: Record<string, string | null>): Likeness[] {
  if (!judging.ids.hasNew) return [];
  const candidates = new Candidates();
  for (const { person, codes } of judging.ids.unlisted())
    if (person) candidates.add(candidateOf(person, codes, "known to the course"));
  const found: Likeness[] = [];
  const seen = new Set<string>();
  for (const [at, row] of judging.rows.entries()) {
    const verdict = judging.verdictOf(at);
    if (judging.known[at]?.person || verdict === "unreadable" || verdict === "duplicate") continue;
    if (Object.hasOwn(answered, row.sourcedId) || seen.has(row.sourcedId)) continue;
    seen.add(row.sourcedId);
    const own = rowCandidate(judging, row, at);
    const like = candidates.find(own, (kind, other) => isLike(kind, own, other));
    if (like) {
      const { sourcedId, name, from } = like.other;
      const other = `${name}, ${sourcedId}, ${from}`;
      found.push({ row: plainRow(row), sourcedId, other, kind: like.kind, because: because[like.kind] });
      // Two rows that are both new are one person by more than a name or a login alone, which is a clash of its own.
    } else candidates.add(own, ["birthday", "e-mail"]);
  }
  return found;
}

/**
 * Known people whom no row names by their id, and whom a row may mean all the same: a row in question, or one that cannot
 * be used and shares a login or e-mail with them, an id but for its zeros, or a name in a section. They are not missing.
 */
export function meantOtherwise(judging: Judging, questions: readonly Likeness[]): ReadonlySet<RosterIdentity> {
  const rows = judging.rows.flatMap((row, at) => (judging.isUnusable(at) ? [rowCandidate(judging, row, at)] : []));
  const found = new Set<RosterIdentity>();
  if (rows.length === 0 && questions.length === 0) return found;
  const unusable = new Candidates();
  for (const row of rows) unusable.add(row);
  const emails = new Set(rows.map(({ email }) => email));
  const inQuestion = new Set(questions.map(({ sourcedId }) => sourcedId));
  for (const known of judging.ids.unlisted()) {
    if (!known.person) continue;
    const own = candidateOf(known.person, known.codes, "");
    const isMeant =
      inQuestion.has(known.sourcedId) ||
      (own.email !== "" && emails.has(own.email)) ||
      unusable.find(own, (kind, row) => isLike(kind, row, own)) !== null;
    if (isMeant) found.add(known);
  }
  return found;
}
