/** A login as it is stored and asked for. */

/** Signs that nobody sees: control and format characters, private and unassigned ones, lone halves of a pair. */
const unseen = /[\p{C}\p{Default_Ignorable_Code_Point}]/u;

/** One spelling for a login that people type: NFKC, without case and outer spaces; null where it holds unseen signs or nothing. */
export function loginOf(typed: string): string | null {
  const plain = typed.normalize("NFKC").trim();
  if (plain === "" || unseen.test(plain)) return null;
  // Upper case first: "ß" and "ſ" have no other capital than that of "ss" and "s".
  return plain.toUpperCase().toLowerCase().normalize("NFKC");
}
