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
import { type Judging, type Likeness, type LikenessKind, likenessKinds } from "./verdict.ts";

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

/** How a row is like somebody; null where it is not. */
function alike(row: Candidate, other: Candidate): LikenessKind | null {
  const isSameName = isNamed(row.folded) && row.folded === other.folded;
  // A name that is left out says nothing against it.
  if (lostZeros(row.sourcedId, other.sourcedId) && (isSameName || !isNamed(row.folded))) return "zeros";
  if (isSameName && row.birthday !== "" && row.birthday === other.birthday) return "birthday";
  if (isSameName && row.email !== "" && row.email === other.email) return "e-mail";
  if (row.username !== "" && row.username === other.username) return "login";
  const isOtherwiseBorn = row.birthday !== "" && other.birthday !== "" && row.birthday !== other.birthday;
  return isSameName && !isOtherwiseBorn && row.codes.some((code) => other.codes.includes(code)) ? "section" : null;
}

/** Candidates by whatever a row may have in common with them, so that each row is held against a few alone. */
class Candidates {
  private readonly by = new Map<string, Candidate[]>();
  add(candidate: Candidate): void {
    for (const key of keysOf(candidate)) {
      const list = this.by.get(key);
      if (list) list.push(candidate);
      else this.by.set(key, [candidate]);
    }
  }
  /** The likeliest by the order of the kinds. */
  find(row: Candidate): { other: Candidate; kind: LikenessKind } | null {
    const found = keysOf(row)
      .flatMap((key) => this.by.get(key) ?? [])
      .flatMap((other) => {
        const kind = alike(row, other);
        return kind ? [{ other, kind }] : [];
      });
    return found.sort((a, b) => likenessKinds.indexOf(a.kind) - likenessKinds.indexOf(b.kind))[0] ?? null;
  }
}

function keysOf({ sourcedId, folded, username }: Candidate): string[] {
  return [
    ...(isNamed(folded) ? [`name ${folded}`] : []),
    ...(username === "" ? [] : [`login ${username}`]),
    ...(sourcedId === "" ? [] : [`id ${withoutZeros(sourcedId)}`]),
  ];
}

/** Known people whom no row names by their id. */
function knownCandidates(judging: Judging): Candidates {
  const found = new Candidates();
  for (const { person, codes } of judging.ids.unlisted())
    if (person) found.add(candidateOf(person, codes, "known to the course"));
  return found;
}

const rowCandidate = (judging: Judging, row: RosterRow, at: number): Candidate =>
  candidateOf(row, [judging.code(at)], `line ${row.line}`);

/**
 * Rows that would make somebody new (or clash for a login), held against whom the course knows and the file does not
 * list, and against each other. Ids that somebody has answered for are left out.
 */
export function findLikenesses(judging: Judging, answered: Record<string, string | null>): Likeness[] {
  if (!judging.ids.hasNew) return [];
  const candidates = knownCandidates(judging);
  const found: Likeness[] = [];
  const seen = new Set<string>();
  for (const [at, row] of judging.rows.entries()) {
    const verdict = judging.verdictOf(at);
    if (judging.known[at]?.person || verdict === "unreadable" || verdict === "duplicate") continue;
    if (Object.hasOwn(answered, row.sourcedId) || seen.has(row.sourcedId)) continue;
    seen.add(row.sourcedId);
    const own = rowCandidate(judging, row, at);
    const like = candidates.find(own);
    // Two rows that are new are one person by more than a name or a login alone, which is a clash of its own.
    if (like && (like.other.from === "known to the course" || like.kind === "birthday" || like.kind === "e-mail")) {
      const { sourcedId, name, from } = like.other;
      const other = `${name}, ${sourcedId}, ${from}`;
      found.push({ row: plainRow(row), sourcedId, other, kind: like.kind, because: because[like.kind] });
    } else candidates.add(own);
  }
  return found;
}

/**
 * Known people whom no row names by their id, and whom a row may mean all the same: a row that cannot be used, or one in
 * question. They are not missing.
 */
export function meantOtherwise(judging: Judging, questions: readonly Likeness[]): ReadonlySet<RosterIdentity> {
  const unusable = judging.rows.flatMap((row, at) => (judging.isUnusable(at) ? [rowCandidate(judging, row, at)] : []));
  const found = new Set<RosterIdentity>();
  if (unusable.length === 0 && questions.length === 0) return found;
  const inQuestion = new Set(questions.map(({ sourcedId }) => sourcedId));
  const byKey = new Map<string, Candidate[]>();
  for (const row of unusable)
    for (const key of [...keysOf(row), ...(row.email === "" ? [] : [`e-mail ${row.email}`])])
      byKey.set(key, [...(byKey.get(key) ?? []), row]);
  for (const known of judging.ids.unlisted()) {
    if (!known.person) continue;
    const own = candidateOf(known.person, known.codes, "");
    const keys = [...keysOf(own), ...(own.email === "" ? [] : [`e-mail ${own.email}`])];
    const isMeant = keys.some((key) => (byKey.get(key) ?? []).some((row) => mayMean(row, own)));
    if (isMeant || inQuestion.has(known.sourcedId)) found.add(known);
  }
  return found;
}

/** An unusable row means whoever shares its login or e-mail, its id but for zeros, or its name in a section. */
const mayMean = (row: Candidate, other: Candidate): boolean =>
  alike(row, other) !== null || (row.email !== "" && row.email === other.email);
