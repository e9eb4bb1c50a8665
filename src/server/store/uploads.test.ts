/** Uploads in pieces on the real database: a cut loses nothing, and nobody else's are there. */
import { v7 } from "uuid";
import { afterAll, beforeAll, expect, test } from "vitest";
import { mostBytes } from "../../core/formats/stored-files.ts";
import { openDesk, sendFile } from "../../tests/desk.ts";
import { readFormWithFile } from "../http/body.ts";
import { closeDatabase, run } from "./database.ts";
import { serveFile, storeArrived } from "./files.ts";
import { answerUpload, arrivedAhead } from "./uploads.ts";

let courseId = "";
beforeAll(async () => {
  ({ courseId } = await openDesk());
});
afterAll(closeDatabase);

const origin = "http://127.0.0.1";
const ask = (account: string, method: string, path: string, headers: Record<string, string>, body?: BodyInit) =>
  answerUpload(
    account,
    new Request(`${origin}${path}`, {
      method,
      headers: { "tus-resumable": "1.0.0", ...headers },
      body: body ?? null,
      // Needed where a body is a stream.
      ...({ duplex: "half" } as object),
    }),
  );
async function begin(account: string, name: string, size: number): Promise<Response> {
  return ask(account, "POST", "/uploads", {
    "upload-length": String(size),
    "upload-metadata": `filename ${Buffer.from(name).toString("base64")}`,
  });
}
const more = (account: string, path: string, offset: number, body: BodyInit) =>
  ask(
    account,
    "PATCH",
    path,
    { "upload-offset": String(offset), "content-type": "application/offset+octet-stream" },
    body,
  );
const offsetOf = async (account: string, path: string) =>
  Number((await ask(account, "HEAD", path, {})).headers.get("upload-offset"));
const idOf = (path: string) => path.split("/").at(-1) ?? "";

test("what arrived before a cut is there, and the rest goes on from it", async () => {
  const account = v7();
  const bytes = Uint8Array.from({ length: 700_000 }, (_, at) => (at * 7 + (at >> 9)) % 251);
  const begun = await begin(account, "../Sketch of the weir.png", bytes.length);
  const path = begun.headers.get("location") ?? "";
  expect([begun.status, path]).toEqual([201, expect.stringMatching(/^\/uploads\/[0-9a-f-]{36}$/)]);
  // A connection that breaks in the middle of a piece.
  let sent = 0;
  const cut = new ReadableStream({
    pull(controller) {
      if (sent >= 400_000) return controller.error(new Error("cut"));
      controller.enqueue(bytes.slice(sent, sent + 50_000));
      sent += 50_000;
    },
  });
  await more(account, path, 0, cut).catch(() => undefined);
  // What came is stored a moment after the answer that nobody gets any more.
  await expect.poll(() => offsetOf(account, path)).toBeGreaterThan(0);
  expect(await offsetOf(account, path)).toBeLessThan(bytes.length);
  expect((await arrivedAhead(account, idOf(path))).size).toBe(0);
  // Neither from elsewhere nor twice.
  expect((await more(account, path, 0, bytes)).status).toBe(409);
  const goOn = async () => {
    const arrived = await offsetOf(account, path);
    return (await more(account, path, arrived, bytes.slice(arrived))).status;
  };
  await expect.poll(goOn).toBe(204);
  const stored = await storeArrived(courseId, account, await arrivedAhead(account, idOf(path)), 1);
  if ("trouble" in stored) throw new Error(stored.trouble);
  expect(stored).toMatchObject({ name: "Sketch of the weir.png", size: bytes.length });
  const served = await serveFile(courseId, stored.id);
  expect(Buffer.compare(Buffer.from((await served?.arrayBuffer()) ?? new ArrayBuffer()), Buffer.from(bytes))).toBe(0);
});

test("a form that breaks off is none; a file that cannot be stored is a failure, and never a form without it", async () => {
  const form = (end: string) =>
    new Request(origin, {
      method: "POST",
      headers: { "content-type": "multipart/form-data; boundary=line" },
      body: [
        ...['--line\r\nContent-Disposition: form-data; name="text"\r\n\r\nWith a sketch\r\n--line\r\n'],
        `Content-Disposition: form-data; name="file"; filename="sketch.png"\r\n\r\n${"x".repeat(400_000)}${end}`,
      ].join(""),
    });
  const whole = "\r\n--line--\r\n";
  const read = await readFormWithFile(form(whole), v7());
  expect([read.form.get("text"), read.file]).toEqual(["With a sketch", expect.objectContaining({ size: 400_000 })]);
  expect(await readFormWithFile(form(""), v7())).toEqual({ form: new FormData(), file: null });
  // No account has an id of this length, so that the database takes nothing.
  await expect(readFormWithFile(form(whole), "x".repeat(100))).rejects.toThrow(/too long/);
});

test("nobody keeps more than their room, however much they send at once", async () => {
  process.env.AMBER_QUOTA_ACCOUNT_MB = "1";
  try {
    const account = v7();
    const send = () => sendFile(courseId, account, { name: "film.mp4", bytes: new Uint8Array(600_000) }, 1);
    const answers = await Promise.all([send(), send(), send()]);
    expect(answers.filter((answer) => "id" in answer)).toHaveLength(1);
    const [refused] = answers.filter((answer) => "trouble" in answer);
    expect(refused).toMatchObject({
      trouble: expect.stringMatching(/film\.mp4 was not stored\. You have no room.*1\.0 MB/),
    });
    // What does fit is taken still, and another account has room of its own.
    const small = { name: "a.txt", bytes: new Uint8Array(1000) };
    for (const who of [account, v7()]) expect(await sendFile(courseId, who, small, 1)).toHaveProperty("id");
  } finally {
    delete process.env.AMBER_QUOTA_ACCOUNT_MB;
  }
});

test("somebody else's is not there, for whatever is asked", async () => {
  const [mine, other] = [v7(), v7()];
  const path = (await begin(mine, "a.pdf", 4)).headers.get("location") ?? "";
  const never = `/uploads/${v7()}`;
  for (const asked of [path, never]) {
    expect((await ask(other, "HEAD", asked, {})).status).toBe(404);
    expect((await more(other, asked, 0, "four")).status).toBe(404);
    expect((await ask(other, "DELETE", asked, {})).status).toBe(404);
  }
  await more(mine, path, 0, "four");
  const sizeFor = async (account: string) => (await arrivedAhead(account, idOf(path))).size;
  expect([await sizeFor(other), await sizeFor(mine)]).toEqual([0, 4]);
  expect((await ask(mine, "DELETE", path, {})).status).toBe(204);
  expect(await sizeFor(mine)).toBe(0);
});

test("what cannot be stored is not begun; nobody has more than five on their way, nor any of the day before", async () => {
  const account = v7();
  for (const [name, size] of [
    ["run.exe", 10],
    ["film.mp4", mostBytes + 1],
    ["empty.pdf", 0],
    ["", 10],
  ] as const)
    expect([name, (await begin(account, name, size)).status]).toEqual([name, name === "film.mp4" ? 413 : 400]);
  const paths: string[] = [];
  for (let at = 0; at < 7; at++) paths.push((await begin(account, "a.pdf", 4)).headers.get("location") ?? "");
  const statuses = () => Promise.all(paths.map(async (path) => (await ask(account, "HEAD", path, {})).status));
  expect(await statuses()).toEqual([404, 404, 200, 200, 200, 200, 200]);
  await run("UPDATE uploads SET at = at - 90000000 WHERE account_id = ?", [account]);
  await begin(account, "b.pdf", 4);
  expect(await statuses()).toEqual(Array(7).fill(404));
});
