/** The plan and the progress of a course in columns, gzipped: what every workbench begins with is made once and kept. */
import { Readable } from "node:stream";
import { buffer } from "node:stream/consumers";
import { setImmediate as others } from "node:timers/promises";
import { createGzip } from "node:zlib";
import type { Piece } from "../../core/plan/columns.ts";
import { copiesUpTo } from "../store/copies.ts";
import { onceAtATime } from "../store/once-at-a-time.ts";

// A course of 5,000 takes about 2 MB.
const kept = copiesUpTo<Uint8Array>(100_000_000, (bytes) => bytes.length);
const making = onceAtATime<Uint8Array>();

/** The JSON of an object with its pieces, piece by piece, with everybody else's turn between them. */
async function* jsonOf(head: object, pieces: Iterable<Piece>): AsyncGenerator<string> {
  yield JSON.stringify({ ...head, pieces: [] }).slice(0, -2);
  let isFirst = true;
  for (const piece of pieces) {
    yield `${isFirst ? "" : ","}${JSON.stringify(piece)}`;
    isFirst = false;
    await others();
  }
  yield "]}";
}

/** An answer in columns, gzipped: `head` is what stands beside its pieces. */
export const compressPieces = (head: object, pieces: Iterable<Piece>): Promise<Uint8Array> =>
  buffer(Readable.from(jsonOf(head, pieces)).pipe(createGzip({ level: 3 })));

/** The same, kept under a name that is another one as soon as it would be otherwise. */
export async function keptPieces(name: string, make: () => Promise<Uint8Array>): Promise<Uint8Array> {
  const there = kept.get(name);
  if (there) return there;
  return making(name, async () => {
    const bytes = await make();
    kept.set(name, bytes);
    return bytes;
  });
}
