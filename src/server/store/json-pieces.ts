/** JSON of large values, piece by piece: nobody waits while a hundred thousand rows are written down. */
import { setImmediate as others } from "node:timers/promises";
import { stringifyChunked } from "@discoveryjs/json-ext";

/** Letters of a piece: a few milliseconds of work. */
const pieceSize = 100_000;

/** The JSON of a value in pieces, with everybody else's turn between them. */
export async function* jsonPieces(value: unknown): AsyncGenerator<string> {
  for (const piece of stringifyChunked(value, { highWaterMark: pieceSize })) {
    yield piece;
    await others();
  }
}
