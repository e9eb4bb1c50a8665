import { createHash } from "node:crypto";

/** What stands in the database for something that nobody who reads it may learn: a token, a login that was tried. */
export const digest = (text: string): string => createHash("sha256").update(text).digest("hex");
