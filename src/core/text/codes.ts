/** Codes that people type, and when two of them are the same. Source: semantics.md section 3. */

/** What does not tell codes apart: people leave out, add and change it when they type one. */
export const codeSeparators = /[\s\p{Pd}_.]+/gu;
/** A code as it is compared: without separators and capitals. */
export const foldCode = (code: string): string => code.normalize("NFKC").replace(codeSeparators, "").toLowerCase();
