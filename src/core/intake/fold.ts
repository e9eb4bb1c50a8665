/** How logins and section codes are compared: NFC, without case. Source: semantics.md section 2. */
export const fold = (text: string): string => text.normalize("NFC").toLowerCase();
