/** What the workbench knows: the published plan, the draft over it, progress, the chosen moment and selection. */

import type { Given } from "../../api/course.ts";
import type { Command, Replay } from "../../core/commands.ts";
import type { Progress } from "../../core/plan/progress.ts";
import type { Plan } from "../../core/plan/types.ts";
import type { Draft, Seen } from "../../core/review/draft.ts";
import type { Present } from "../../core/review/live.ts";
import type { Proposal } from "../../core/review/proposal.ts";

/** What is looked at and selected, by name; what belongs to one station alone is named `station.name`. */
export type Place = Readonly<Record<string, string>>;

export const stations = ["intake", "placement", "reach", "timing", "gradebook", "review"] as const;
export type Station = (typeof stations)[number];

export interface Notice {
  id: number;
  tone: "done" | "wrong";
  says: string;
}
/** What follows from the last drafted change at a press: it stands in the tray until the next one. */
export interface Offer {
  says: string;
  take(): void;
}
export type { Given };

/** What a publication was: how many students it touches, and its changes in words. */
export interface Published {
  touched: number;
  says: string[];
}

/** What there is whether or not the course has come yet. */
interface Surroundings {
  /** Commands that stay drafted at the next publication. */
  leftOut: ReadonlySet<string>;
  /** The plan as it was at a moment, where that is looked at: nothing can be drafted then. */
  asWas: { at: number; plan: Plan } | null;
  /** What was published last from this page. */
  justPublished: Published | null;
  /** How many rows of a publication are written, while it is. */
  writing: { done: number; of: number } | null;
  /** Changes that are being written and tried on the draft: shown, and not drafted. */
  tried: readonly { where: "card" | "line"; command: Command }[];
  /** The present, epoch milliseconds; moves on with the clock unless the server's is fixed. */
  now: number;
  /** The moment of the time rail; null follows the present. */
  moment: number | null;
  station: Station;
  /** What is looked at and selected, as the address says it. */
  place: Place;
  /** Words for the student, group or item that the command field chose. */
  target: { kind: "person" | "group" | "item" | "action"; id: string } | null;
  notice: Notice | null;
  offer: Offer | null;
  /** How many changes of the draft are on their way to the server. */
  sending: number;
  /** Who else has the course open, at which station, and what they drafted. */
  people: Present[];
  /** For the coordinator what waits; for others their own. */
  proposals: Proposal[];
}
/** The course as the server told it last. */
interface Course {
  revision: number;
  published: Plan;
  /** What an instructor or support person was given; null for the coordinator. */
  scope: Given | null;
  draft: Draft;
  /** The draft carried over the published plan. */
  drafted: Replay;
  progress: Progress;
}
export type OpenState = Surroundings & Course & { status: "ready" };
export type WorkbenchState =
  | (Surroundings & { status: "loading" })
  | (Surroundings & { status: "failed"; failure: string })
  | OpenState;
/** What the review and the audit are counted of. */
export const counted = ["published", "drafted", "draft", "leftOut", "tried", "progress", "now", "station"] as const;
export type CountedState = Pick<OpenState, (typeof counted)[number]>;

/** When a planned publication goes out, and what the review counted. */
export interface PlannedFor {
  at: number;
  seen: Seen;
}
