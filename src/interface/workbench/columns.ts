/** The course out of the columns in which it comes: read a few milliseconds at a time, and kept for workers that begin with it. */

import type { readPlanInColumns, readProgressInColumns } from "../../api/course.ts";
import type { AnswerOf } from "../../api/endpoint.ts";
import { type Piece, planReader, progressReader } from "../../core/plan/columns.ts";
import type { Progress } from "../../core/plan/progress.ts";
import type { Plan } from "../../core/plan/types.ts";

/** Milliseconds of work at one time: whoever types or moves meanwhile sees it at once. */
const longest = 25;
const turn = () => new Promise<void>((done) => setTimeout(done));

async function readAll<Made>(
  pieces: readonly Piece[],
  reader: { add(piece: Piece): void; made(): Made },
): Promise<Made> {
  let begun = performance.now();
  for (const piece of pieces) {
    reader.add(piece);
    if (performance.now() - begun < longest) continue;
    await turn();
    begun = performance.now();
  }
  return reader.made();
}

// What a plan or progress came in is much less to copy for a worker than its rows.
const cameIn = new WeakMap<Plan | Progress, readonly Piece[]>();

export async function readPlanPieces({ course, pieces }: AnswerOf<typeof readPlanInColumns>): Promise<Plan> {
  const plan = await readAll(pieces, planReader(course));
  cameIn.set(plan, pieces);
  return plan;
}

export async function readProgressPieces({ pieces }: AnswerOf<typeof readProgressInColumns>): Promise<Progress> {
  const progress = await readAll(pieces, progressReader());
  cameIn.set(progress, pieces);
  return progress;
}

/** The pieces that a plan or progress was read from; undefined where it changed since. */
export const piecesFor = (value: Plan | Progress): readonly Piece[] | undefined => cameIn.get(value);
