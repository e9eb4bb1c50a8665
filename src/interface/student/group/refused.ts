/** Why what was sent was not taken, with all that was typed, so that nothing is lost. */
export interface Refused {
  failure: string;
  /** Which form it was. */
  thread: string | null;
  entry: string;
  title: string;
  text: string;
}
export const nothingRefused: Refused = { failure: "", thread: null, entry: "", title: "", text: "" };
