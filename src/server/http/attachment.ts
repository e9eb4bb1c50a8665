import { create } from "content-disposition";

/**
 * The header that names a file which is saved, or shown where `isShown`. Names are what people type: here they become
 * what a header can hold (RFC 6266), so that no sign of them makes the answer fail.
 */
export const attachment = (name: string, { isShown = false } = {}): string =>
  create(name, { type: isShown ? "inline" : "attachment" });
