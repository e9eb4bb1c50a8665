/** Possible same people under two ids: the same name, and the same birthday or e-mail. They are asked about, never guessed. */
import { fullName } from "../plan/lookup.ts";
import { fold } from "../text/caseless.ts";
import { plainRow } from "./rows.ts";
import type { Judging, Likeness } from "./verdict.ts";

/** Attributes that hold a birthday, by their title. */
export const isBirthday = (title: string): boolean => /birth|^dob$/i.test(title);

const birthdayIn = (attributes: Record<string, string>): string => {
  for (const title in attributes) if (isBirthday(title)) return attributes[title] as string;
  return "";
};
const nameOf = (named: { givenName: string; familyName: string }) => fold(`${named.familyName}\n${named.givenName}`);

/**
 * Rows that would make somebody new (or clash for an e-mail), held against whom the course knows and the file
 * does not list, and against each other. Ids that somebody has answered for are left out.
 */
export function findLikenesses(judging: Judging, answered: Record<string, string | null>): Likeness[] {
  if (!judging.ids.hasNew) return [];
  const asked = judging.rows.filter((row, at) => {
    if (judging.known[at]?.person) return false;
    const verdict = judging.verdictOf(at);
    return verdict !== "unreadable" && verdict !== "duplicate" && !(row.sourcedId in answered);
  });
  const names = new Set(asked.map(nameOf));
  const candidates = new Map<
    string,
    { sourcedId: string; name: string; email: string; birthday: string; from: string }[]
  >();
  const add = (
    name: string,
    candidate: { sourcedId: string; name: string; email: string; birthday: string; from: string },
  ) => {
    if (!names.has(name)) return;
    const list = candidates.get(name);
    if (list) list.push(candidate);
    else candidates.set(name, [candidate]);
  };
  for (const { person } of judging.ids.unlisted()) {
    if (!person) continue;
    const birthday = birthdayIn(person.attributes);
    add(nameOf(person), {
      sourcedId: person.sourcedId,
      name: fullName(person),
      email: person.email ?? "",
      birthday,
      from: "known to the course",
    });
  }
  const found: Likeness[] = [];
  const seen = new Set<string>();
  for (const row of asked) {
    if (seen.has(row.sourcedId)) continue;
    seen.add(row.sourcedId);
    const [name, birthday, email] = [nameOf(row), birthdayIn(row.attributes), fold(row.email)];
    if (name === "\n") continue;
    const alike = (candidates.get(name) ?? []).find(
      (other) => (birthday !== "" && birthday === other.birthday) || (email !== "" && email === fold(other.email)),
    );
    if (alike) {
      const because =
        birthday !== "" && birthday === alike.birthday ? "the same name and birthday" : "the same name and e-mail";
      found.push({
        row: plainRow(row),
        sourcedId: alike.sourcedId,
        other: `${alike.name}, ${alike.sourcedId}, ${alike.from}`,
        because,
      });
    } else
      add(name, {
        sourcedId: row.sourcedId,
        name: fullName(row),
        email: row.email,
        birthday,
        from: `line ${row.line}`,
      });
  }
  return found;
}
