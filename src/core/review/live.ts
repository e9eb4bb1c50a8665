/** What an open workbench is told of the course, and of who else is in it. Source: semantics.md sections 8 and 9. */
export interface Present {
  name: string;
  station: string;
  /** What they drafted, the first few changes in words, for whoever may know of it. */
  drafted: number;
  says: string[];
}
export interface LiveState {
  revision: number;
  /** Who published it, and what, in words. */
  by: string;
  says: string;
  people: Present[];
  /** Of one's own draft, which another window may have changed. */
  version: number;
  /** Moves on when somebody hands in. */
  handedIn: string;
  /** Moves on when something is proposed, taken or handed back. */
  proposed: string;
}
