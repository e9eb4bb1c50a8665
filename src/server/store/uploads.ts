/**
 * Files on their way, by the tus protocol (https://tus.io/protocols/resumable-upload): what arrived is stored piece by
 * piece, so that a cut connection goes on where it was, in whichever process. Each belongs to the account that began it.
 */
import type { Readable } from "node:stream";
import { DataStore, ERRORS, MemoryLocker, Server, Upload } from "@tus/server";
import { v7 } from "uuid";
import { fileTrouble, mostBytes, plainName } from "../../core/formats/stored-files.ts";
import { rows, run } from "./database.ts";

const pieceBytes = 256 * 1024;
const day = 86_400_000;
/** Uploads that somebody may have on their way; older ones give way. */
const most = 5;

interface Row {
  id: string;
  name: string;
  size: number;
  arrived: number;
}

const find = async (accountId: string, id: string): Promise<Row | null> => {
  const [found] = await rows<Row>(
    `SELECT u.id, u.name, u.size, COALESCE(SUM(LENGTH(p.bytes)), 0) AS arrived
     FROM uploads u LEFT JOIN upload_pieces p ON p.upload_id = u.id
     WHERE u.id = ? AND u.account_id = ? GROUP BY u.id, u.name, u.size`,
    [id, accountId],
  );
  return found ? { ...found, arrived: Number(found.arrived) } : null;
};

/** Takes away what is a day old, and of one account what is beyond the most that it may have, one more to come. */
async function makeRoom(accountId: string, at: number): Promise<void> {
  await run("DELETE FROM uploads WHERE at < ?", [at - day]);
  const own = await rows<{ id: string }>("SELECT id FROM uploads WHERE account_id = ? ORDER BY at DESC, id DESC", [
    accountId,
  ]);
  for (const { id } of own.slice(most - 1)) await run("DELETE FROM uploads WHERE id = ?", [id]);
}

const begin = (accountId: string, { id, name, size }: Pick<Row, "id" | "name" | "size">, at: number) =>
  run("INSERT INTO uploads (id, account_id, name, size, at) VALUES (?, ?, ?, ?, ?)", [id, accountId, name, size, at]);

/** Stores what comes as it comes, so that what came before a cut is there and nothing is held; gives the offset after it. */
async function storePieces(id: string, stream: AsyncIterable<Uint8Array>, offset: number): Promise<number> {
  let position = offset;
  let [pending, length]: [Uint8Array[], number] = [[], 0];
  const store = async () => {
    const bytes = Buffer.concat(pending);
    [pending, length] = [[], 0];
    if (bytes.length === 0) return;
    await run("INSERT INTO upload_pieces (upload_id, position, bytes) VALUES (?, ?, ?)", [id, position, bytes]);
    position += bytes.length;
  };
  try {
    for await (const chunk of stream) {
      pending.push(chunk);
      length += chunk.length;
      if (length >= pieceBytes) await store();
    }
  } finally {
    await store();
  }
  return position;
}

class UploadsOf extends DataStore {
  constructor(private readonly accountId: string) {
    super();
    this.extensions = ["creation", "termination"];
  }

  override async create(upload: Upload): Promise<Upload> {
    const name = plainName(upload.metadata?.filename ?? "");
    const trouble = fileTrouble(name, upload.size ?? 0);
    if (trouble) throw { status_code: 400, body: trouble };
    const at = Date.now();
    await makeRoom(this.accountId, at);
    await begin(this.accountId, { id: upload.id, name, size: upload.size ?? 0 }, at);
    return upload;
  }

  override async getUpload(id: string): Promise<Upload> {
    const found = await find(this.accountId, id);
    if (!found) throw ERRORS.FILE_NOT_FOUND;
    return new Upload({ id, size: found.size, offset: found.arrived, metadata: { filename: found.name } });
  }

  /** Gives the offset after what came. */
  override write(stream: Readable, id: string, offset: number): Promise<number> {
    return storePieces(id, stream, offset);
  }

  override async remove(id: string): Promise<void> {
    if (!(await find(this.accountId, id))) throw ERRORS.FILE_NOT_FOUND;
    await run("DELETE FROM uploads WHERE id = ?", [id]);
  }
}

/** Whoever comes back to an upload waits for what still comes by the connection that was cut. */
const locker = new MemoryLocker();

/** Answers a request of the protocol, for one account. */
export const answerUpload = (accountId: string, request: Request): Promise<Response> =>
  new Server({
    path: "/uploads",
    datastore: new UploadsOf(accountId),
    locker,
    maxSize: mostBytes,
    relativeLocation: true,
    namingFunction: () => v7(),
  }).handleWeb(request);

/** A file that arrived: its bytes stand in the uploads, under its id. */
export interface ArrivedFile {
  id: string;
  name: string;
  /** In bytes; 0 where nothing of it arrived, or not all. */
  size: number;
}

/** A file that arrived ahead of its form. One that is not theirs, not there or not whole has no bytes: it is refused as empty. */
export async function arrivedAhead(accountId: string, id: string): Promise<ArrivedFile> {
  const found = await find(accountId, id);
  const isWhole = found !== null && found.arrived === found.size;
  return isWhole ? { id, name: found.name, size: found.size } : { id, name: "What arrived of the file", size: 0 };
}

/** Takes a file in as it comes with a form. One whose kind is not taken is read past, not stored. */
export async function takeIn(
  accountId: string,
  filename: string,
  stream: AsyncIterable<Uint8Array>,
): Promise<ArrivedFile> {
  const [id, name, at] = [v7(), plainName(filename), Date.now()];
  if (fileTrouble(name, 1)) {
    let size = 0;
    for await (const chunk of stream) size += chunk.length;
    return { id, name, size };
  }
  await makeRoom(accountId, at);
  await begin(accountId, { id, name, size: 0 }, at);
  const size = await storePieces(id, stream, 0);
  await run("UPDATE uploads SET size = ? WHERE id = ?", [size, id]);
  return { id, name, size };
}
