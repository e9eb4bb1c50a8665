/** Bodies of requests, counted while they arrive: what is too much, too slow or too many at once ends there. */
import { ReadableStream as WebStream } from "node:stream/web";
import { mostBytes, saysMost } from "../../core/formats/stored-files.ts";

const kilobyte = 1024;
const megabyte = 1024 * kilobyte;
/** What a route may be sent, in bytes. A form around a file has a little more than the file. */
export const bodyLimits = {
  /** A form of a few fields. */
  form: 64 * kilobyte,
  /** A form with a text that somebody writes. */
  text: megabyte,
  json: 4 * megabyte,
  /** Rosters, marks and plans of the largest courses. */
  largeJson: 100 * megabyte,
  file: mostBytes + megabyte,
};
export type BodyLimit = keyof typeof bodyLimits;

/** How long nothing may arrive, and how long a whole body may take, in milliseconds. */
const patience = { quiet: 20_000, form: 60_000, file: 280_000 };
/** Bodies that are read into memory may hold this much of it together. */
const mostHeld = 256 * megabyte;
/** Files that one account may be sending at once. */
const mostSending = 6;
let held = 0;
const sending = new Map<string, number>();

/** A body that was not read to its end: the status of the answer, and a sentence that says why and what to do. */
export class BodyRefused extends Error {
  readonly status: 408 | 413 | 429 | 503;
  constructor(status: 408 | 413 | 429 | 503, says: string) {
    super(says);
    this.status = status;
  }
}

const sayLimit = (limit: BodyLimit): string => {
  const most = bodyLimits[limit];
  return limit === "file"
    ? `What was sent is larger than a file may be. ${saysMost} Nothing was stored.`
    : `What was sent is larger than this address takes: ${most < megabyte ? `${most / kilobyte} kB` : `${most / megabyte} MB`} is the most. Nothing was changed.`;
};
const busy = () =>
  new BodyRefused(503, "The server is busy with other large requests. Send it again in a few seconds.");

/** The next piece, or an error where none comes in time. */
async function nextPiece(reader: ReadableStreamDefaultReader<Uint8Array>, within: number) {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<never>((_, reject) => {
    const says = "What was sent arrived too slowly, so it was given up. Nothing was changed; send it again.";
    timer = setTimeout(() => reject(new BodyRefused(408, says)), Math.max(1, within));
  });
  try {
    return await Promise.race([reader.read(), late]);
  } finally {
    clearTimeout(timer);
  }
}

interface Counting {
  limit: BodyLimit;
  /** Told when what arrives is held in memory; not asked where it is stored as it comes. */
  hold: (bytes: number) => void;
}

async function* counted(body: ReadableStream<Uint8Array>, { limit, hold }: Counting): AsyncGenerator<Uint8Array> {
  const reader = body.getReader();
  const until = Date.now() + (limit === "file" ? patience.file : patience.form);
  let arrived = 0;
  try {
    for (;;) {
      const { done, value } = await nextPiece(reader, Math.min(patience.quiet, until - Date.now()));
      if (done) return;
      arrived += value.byteLength;
      if (arrived > bodyLimits[limit]) throw new BodyRefused(413, sayLimit(limit));
      hold(value.byteLength);
      yield value;
    }
  } finally {
    reader.cancel().catch(() => {});
  }
}

/** Counts what an account sends at once; gives back what ends it. */
function beginSending(accountId: string): () => void {
  const now = sending.get(accountId) ?? 0;
  if (now >= mostSending)
    throw new BodyRefused(429, `You are sending ${now} files already. Send this one when one of them has arrived.`);
  sending.set(accountId, now + 1);
  return () => {
    const left = (sending.get(accountId) ?? 1) - 1;
    if (left > 0) sending.set(accountId, left);
    else sending.delete(accountId);
  };
}

export interface CountedBody {
  /** Why the body was not read to its end; null where it was, or was not asked for. */
  refusal: () => BodyRefused | null;
  /** Lets go what was counted. */
  end: () => void;
}

/**
 * Has a request's body counted when it is read, by whichever of its methods. Throws BodyRefused at once where it says
 * of itself that it is too large, and to whoever reads it where it turns out to be.
 */
export function countBody(request: Request, { limit, accountId }: { limit: BodyLimit; accountId: string | null }) {
  const nothing: CountedBody = { refusal: () => null, end: () => {} };
  const { body } = request;
  if (!body) return nothing;
  if (Number(request.headers.get("content-length") ?? 0) > bodyLimits[limit])
    throw new BodyRefused(413, sayLimit(limit));
  const endSending = limit === "file" && accountId ? beginSending(accountId) : () => {};
  let own = 0;
  let refusal: BodyRefused | null = null;
  const hold = (bytes: number) => {
    if (limit === "file") return;
    own += bytes;
    held += bytes;
    if (held > mostHeld) throw busy();
  };
  async function* noting() {
    try {
      yield* counted(body as ReadableStream<Uint8Array>, { limit, hold });
    } catch (error) {
      if (error instanceof BodyRefused) refusal = error;
      throw error;
    }
  }
  const streamOf = (pieces: AsyncIterable<Uint8Array>) => WebStream.from(pieces) as unknown;
  const { method, headers } = request;
  // Needed where a body is a stream.
  const streams = { duplex: "half" } as object;
  const inner = new Request(request.url, { method, headers, body: streamOf(noting()) as BodyInit, ...streams });
  Object.defineProperty(request, "body", { get: () => inner.body });
  for (const name of ["json", "formData", "text", "arrayBuffer", "blob"] as const)
    Object.defineProperty(request, name, { value: () => inner[name]() });
  return {
    refusal: () => refusal,
    end: () => {
      held -= own;
      own = 0;
      endSending();
    },
  } satisfies CountedBody;
}
