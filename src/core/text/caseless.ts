/** How logins and section codes are compared: NFC, without case. Source: semantics.md section 2. */
export function fold(text: string): string {
  // Nothing before the combining marks is ever composed; almost every login ends here.
  for (let at = 0; at < text.length; at++) if (text.charCodeAt(at) >= 0x300) return text.normalize("NFC").toLowerCase();
  return text.toLowerCase();
}
