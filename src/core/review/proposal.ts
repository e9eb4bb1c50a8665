/** What an instructor or support person puts before the coordinator. Source: semantics.md section 9. */
import type { Command } from "../commands.ts";

export type ProposalState = "waiting" | "taken" | "handed back" | "taken back";
export interface Proposal {
  id: string;
  by: string;
  at: number;
  state: ProposalState;
  /** The coordinator's word on what was handed back. */
  answer: string;
  /** How many of its changes were taken. */
  taken: number;
  /** How many of those went out, and when the last of them did; epoch milliseconds. */
  published: number;
  publishedAt: number | null;
  /** Each change in words; `why`: what keeps it from applying as the course is now. */
  lines: { id: string; says: string; why: string | null }[];
  /** For the coordinator alone. */
  commands: Command[];
}
