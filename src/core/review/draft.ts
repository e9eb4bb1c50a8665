/** Somebody's draft, as the server keeps it and the workbench shows it. Source: semantics.md section 8. */
import { z } from "zod";
import type { Command } from "../commands.ts";
import type { Message } from "../messages/message.ts";

export interface Draft {
  /** Moves on with every change of it. */
  version: number;
  commands: Command[];
  /** Undone commands, the next to redo first. */
  undone: Command[];
  /** Publications that wait for their moment, and those that were held back when it came. */
  planned: Planned[];
  /** Messages that go out with the next publication. */
  messages: Message[];
}
export interface Planned {
  id: string;
  /** Epoch milliseconds. */
  at: number;
  state: "waiting" | "held back";
  /** Why it was held back. */
  says: string;
  /** Of the draft, those that it holds; none once it was held back. */
  commandIds: string[];
  /** Messages that go out with it; none once it was held back. */
  messages: Message[];
  /** What the review counted when it was planned. */
  seen: Seen;
}

/** Commands that wait for their moment: they cannot be undone, and are not published with others. */
export const waitingIn = ({ planned }: Pick<Draft, "planned">): string[] =>
  planned.flatMap(({ state, commandIds }) => (state === "waiting" ? commandIds : []));

const count = z.number().int().min(0);
/** What the review counted when a publication was planned: where there is more of it by then, it is held back. */
export const Seen = z.object({ touched: count, losing: count, leaks: count, earlier: count });
export type Seen = z.infer<typeof Seen>;
