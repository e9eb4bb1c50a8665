/** Which course shells a registrar's classes would make: a shell a course of the registrar's, with its classes as sections. */
import { fold } from "../text/caseless.ts";
import { plural } from "../text/plural.ts";
import { cut } from "../text/shorten.ts";

/** A class as the registrar lists it. */
export interface TaughtClass {
  id: string;
  /** Becomes the section's code. */
  code: string;
  title: string;
  /** When it meets, as the registrar writes it: "Mon Wed 09:00-10:15". */
  meets: string;
  /** The course that it is a class of; null where the registrar does not say. */
  course: { id: string; code: string; title: string } | null;
}

export interface ProposedShell {
  /** Tells the proposals of a list apart. */
  key: string;
  code: string;
  title: string;
  classes: TaughtClass[];
}

export const longestCode = 40;
const byCode = new Intl.Collator("en", { numeric: true });

/** A shell for each course that classes belong to, and one for each class that belongs to none; in the order of their codes. */
export function proposeShells(classes: readonly TaughtClass[]): ProposedShell[] {
  const shells = new Map<string, ProposedShell>();
  for (const one of classes) {
    const { code, title } = one.course ?? one;
    const key = one.course ? `course ${one.course.id}` : `class ${one.id}`;
    const shell = shells.get(key) ?? { key, code: cut(code, longestCode), title: cut(title, 200), classes: [] };
    shell.classes.push(one);
    shells.set(key, shell);
  }
  const all = [...shells.values()];
  for (const shell of all) shell.classes.sort((a, b) => byCode.compare(a.code, b.code));
  return all.sort((a, b) => byCode.compare(a.code, b.code) || byCode.compare(a.key, b.key));
}

/** Why some classes cannot be the sections of one shell; null where they can. A section is known by its code. */
export function whyNotOneShell(classes: readonly TaughtClass[]): string | null {
  if (classes.length === 0) return "Tick at least one class.";
  const seen = new Map<string, TaughtClass>();
  for (const one of classes) {
    const other = seen.get(fold(one.code));
    if (other)
      return `Two of the classes have the code ${one.code} (${other.title}, ${one.title}): in one shell they would be one section. Ask the registrar for another code, or tick one of them.`;
    seen.set(fold(one.code), one);
  }
  const long = classes.find(({ code }) => code.length > 60);
  return long ? `The code of ${long.title} is longer than ${plural(60, "character")}: ${cut(long.code, 80)}.` : null;
}
