/** Messages through the real post office, which delivers, is down, and refuses. */
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { v7 } from "uuid";
import { afterAll, beforeAll, beforeEach, expect, test, vi } from "vitest";
import { Command } from "../../core/commands.ts";
import { isRefusal } from "../../core/plan/command.ts";
import { coordinatorOf, type Desk, openDesk } from "../../tests/desk.ts";
import { now } from "../clock.ts";
import { addCommands, keepMessages, readDraft } from "../drafts/drafts.ts";
import { planPublication, publishDue, takeBack } from "../drafts/planned.ts";
import { publish } from "../drafts/publishing.ts";
import { sendDue } from "../jobs/mail.ts";
import { course } from "../store/courses.ts";
import { closeDatabase, rows, run } from "../store/database.ts";
import { noticesOf, readNotices, sendMessage, sentMessages, tryAgain, unreadNotices } from "./messages.ts";

interface Office {
  url: string;
  env: { AMBER_SMTP_URL: string };
  stop(): Promise<void>;
}
let desk: Desk;
let office: Office;
let courseId = "";
beforeAll(async () => {
  desk = await openDesk();
  ({ courseId } = desk);
  desk.first = await coordinatorOf(desk);
  const { startPostOffice } = await import("../../../scripts/lib/post-office.mjs");
  office = (await startPostOffice(mkdtempSync(join(tmpdir(), "post-")), 46_330)) as Office;
  process.env.AMBER_SMTP_URL = office.env.AMBER_SMTP_URL;
  await vi.waitFor(letters, { timeout: 20_000 });
}, 40_000);
afterAll(async () => {
  await office.stop();
  await closeDatabase();
});
beforeEach(() => run("DELETE FROM draft_commands", []));

const letters = async (): Promise<{ to: string; subject: string; text: string }[]> =>
  (await fetch(`${office.url}/letters.json`)).json();
const mood = (how: string) =>
  fetch(`${office.url}/?mood=${encodeURIComponent(how)}`, { method: "POST", redirect: "manual" });
const students = () =>
  Object.values(desk.plan.enrolments)
    .filter(({ role, until }) => role === "student" && until === null)
    .map(({ personId }) => personId);
const message = (subject: string, people: string[]) => ({
  id: v7(),
  subject,
  body: "Dear {given name}, you are in {group of Sections}.",
  to: people.map((id) => ({ kind: "person" as const, id })),
  unplacedIn: [],
  withStaff: false,
});
const plan = async () => (await course(courseId))?.plan ?? desk.plan;
const arrived = async (subject: string) => (await letters()).filter((one) => one.subject === subject);
const state = async (subject: string) => (await sentMessages(courseId, null)).find((one) => one.subject === subject);
const later = () => Date.now() + 24 * 3600_000;

test("each gets one letter and one notice of their own, however often it is sent", async () => {
  const [a, b] = [...new Set(students())] as [string, string];
  const one = message("Twice", [a, b]);
  for (const _ of [1, 2])
    expect(await sendMessage(await plan(), desk.first, one, now())).toEqual({ recipients: 2, mails: 2 });
  await Promise.all([sendDue(later()), sendDue(later())]);
  const got = await arrived("Twice");
  expect(got.map(({ to }) => to).sort()).toEqual([a, b].map((id) => desk.plan.people[id]?.email).sort());
  expect(got.every(({ to }) => !to.includes(","))).toBe(true);
  expect(got[0]?.text).toMatch(/^Dear \S+, you are in \S/);
  expect(await state("Twice")).toMatchObject({ recipients: 2, sent: 2, waiting: 0, refused: 0, unread: 2 });
  expect((await noticesOf(courseId, a)).map(({ subject }) => subject)).toEqual(["Twice"]);
  expect(await unreadNotices(courseId, a)).toBe(1);
  await readNotices(courseId, a, now());
  expect([await unreadNotices(courseId, a), await unreadNotices(courseId, b)]).toEqual([0, 1]);
});
test("a post office that is down keeps nobody's letter from arriving once, later", async () => {
  const people = [...new Set(students())].slice(0, 5);
  await mood("is down");
  await sendMessage(await plan(), desk.first, message("Later", people), now());
  await sendDue(later());
  expect(await state("Later")).toMatchObject({
    sent: 0,
    waiting: 5,
    refused: 0,
    error: expect.stringMatching(/closed|421/i),
  });
  await mood("delivers");
  await sendDue(later() + 24 * 3600_000);
  await sendDue(later() + 48 * 3600_000);
  expect(await arrived("Later")).toHaveLength(5);
  expect(await state("Later")).toMatchObject({ sent: 5, waiting: 0 });
});
test("what is refused is shown and stays so until somebody tries again; a cut-off sending is not doubled", async () => {
  const [a] = students() as [string];
  await mood("refuses");
  await sendMessage(await plan(), desk.first, message("Refused", [a]), now());
  await sendDue(later());
  await sendDue(later() + 24 * 3600_000);
  const refused = await state("Refused");
  expect(refused).toMatchObject({ sent: 0, waiting: 0, refused: 1, error: expect.stringMatching(/does not know/) });
  await mood("delivers");
  expect(await tryAgain(courseId, refused?.id ?? "")).toBe(1);
  await sendDue(later());
  expect(await state("Refused")).toMatchObject({ sent: 1, refused: 0 });
  // As if the application had ended after the letter was taken and before that was noted.
  await run("UPDATE deliveries SET state = 'waiting', next_at = 0 WHERE message_id = ?", [refused?.id ?? ""]);
  await sendDue(later());
  expect(await arrived("Refused")).toHaveLength(1);
});
test("messages go out with the publication, at once or at its moment, and come back when that is taken back", async () => {
  const [a] = students() as [string];
  const item = Object.values(desk.plan.items)[0];
  const draft = async (title: string) => {
    const answer = await addCommands(courseId, desk.first, [
      Command.parse({ id: v7(), kind: "item.change", itemId: item?.id, fields: { title } }),
    ]);
    if (isRefusal(answer)) throw new Error(answer.sentence);
  };
  const looked = async () => ({
    publicationId: v7(),
    revision: (await course(courseId))?.revision ?? 0,
    version: (await readDraft(courseId, desk.first)).version,
    leave: [],
  });
  await draft("With a letter");
  await keepMessages(courseId, desk.first, [message("With it", [a])]);
  expect(await state("With it")).toBeUndefined();
  await publish(courseId, desk.first, await looked());
  expect(await state("With it")).toMatchObject({ recipients: 1 });
  expect((await readDraft(courseId, desk.first)).messages).toEqual([]);
  await draft("At its moment");
  await keepMessages(courseId, desk.first, [message("At its moment", [a])]);
  const nothing = { touched: 0, losing: 0, leaks: 0, earlier: 0 };
  const taken = await looked();
  await planPublication(courseId, desk.first, taken, now() + 1000, nothing);
  expect((await readDraft(courseId, desk.first)).messages).toEqual([]);
  await takeBack(courseId, desk.first, taken.publicationId);
  expect((await readDraft(courseId, desk.first)).messages).toHaveLength(1);
  await planPublication(courseId, desk.first, await looked(), now() + 1000, nothing);
  await publishDue(now() + 2000);
  expect(await state("At its moment")).toMatchObject({ recipients: 1 });
  const [line] = await rows<{ says: string }>(
    "SELECT says FROM journal WHERE kind = 'message' ORDER BY id DESC LIMIT 1",
  );
  expect(line?.says).toBe('Message "At its moment" to 1 person');
});
