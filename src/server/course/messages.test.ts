/** Messages through the real post office, which delivers, is down, and refuses. */
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { v7 } from "uuid";
import { afterAll, beforeAll, beforeEach, expect, test, vi } from "vitest";
import { Command } from "../../core/commands.ts";
import { blankMessage } from "../../core/messages/message.ts";
import { staffToWriteTo } from "../../core/messages/to-staff.ts";
import { isRefusal } from "../../core/plan/command.ts";
import { noProgress } from "../../core/plan/progress.ts";
import type { Item } from "../../core/plan/types.ts";
import { reachAt } from "../../core/reach/reach.ts";
import { hasBit, listBits } from "../../core/sets/bits.ts";
import { accountOfPerson, coordinatorOf, type Desk, openDesk } from "../../tests/desk.ts";
import { keepSettings } from "../accounts/own.ts";
import { now } from "../clock.ts";
import { addCommands, keepMessages, readDraft } from "../drafts/drafts.ts";
import { planPublication, publishDue, takeBack } from "../drafts/planned.ts";
import { publish } from "../drafts/publishing.ts";
import type { CourseAccess } from "../http/guard.ts";
import { sendDue } from "../jobs/mail.ts";
import { course } from "../store/courses.ts";
import { closeDatabase, rows, run } from "../store/database.ts";
import { sendReceipt } from "../student/receipts.ts";
import { writeToStaff } from "../student/write-to-staff.ts";
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

const letters = async (): Promise<{ from: string; to: string; subject: string; text: string }[]> =>
  (await fetch(`${office.url}/letters.json`)).json();
const mood = (how: string) =>
  fetch(`${office.url}/?mood=${encodeURIComponent(how)}`, { method: "POST", redirect: "manual" });
const students = () =>
  Object.values(desk.plan.enrolments)
    .filter(({ role, until }) => role === "student" && until === null)
    .map(({ personId }) => personId);
const message = (subject: string, people: string[]) => ({
  ...blankMessage,
  id: v7(),
  subject,
  body: "Dear {given name}, you are in {group of Sections}.",
  to: people.map((id) => ({ kind: "person" as const, id })),
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
  const draftAsReviewed = async () => ({
    publicationId: v7(),
    revision: (await course(courseId))?.revision ?? 0,
    version: (await readDraft(courseId, desk.first)).version,
    leave: [],
  });
  await draft("With a letter");
  await keepMessages(courseId, desk.first, [message("With it", [a])]);
  expect(await state("With it")).toBeUndefined();
  await publish(courseId, desk.first, await draftAsReviewed());
  expect(await state("With it")).toMatchObject({ recipients: 1 });
  expect((await readDraft(courseId, desk.first)).messages).toEqual([]);
  await draft("At its moment");
  await keepMessages(courseId, desk.first, [message("At its moment", [a])]);
  const nothing = { touched: 0, losing: 0, leaks: 0, earlier: 0 };
  const taken = await draftAsReviewed();
  await planPublication(courseId, desk.first, taken, now() + 1000, nothing);
  expect((await readDraft(courseId, desk.first)).messages).toEqual([]);
  await takeBack(courseId, desk.first, taken.publicationId);
  expect((await readDraft(courseId, desk.first)).messages).toHaveLength(1);
  await planPublication(courseId, desk.first, await draftAsReviewed(), now() + 1000, nothing);
  await publishDue(now() + 2000);
  expect(await state("At its moment")).toMatchObject({ recipients: 1 });
  const [line] = await rows<{ says: string }>(
    "SELECT says FROM journal WHERE kind = 'message' ORDER BY id DESC LIMIT 1",
  );
  expect(line?.says).toBe('Message "At its moment" to 1 person');
});

const peopleWith = (role: string) =>
  Object.values(desk.plan.enrolments)
    .filter((one) => one.role === role && one.until === null)
    .map(({ personId }) => personId);
const shown = async (personId: string) => noticesOf(courseId, personId);

test("a letter bears its writer's name, or the course's, and leads to what it is about for whoever may open it", async () => {
  process.env.AMBER_ADDRESS = "https://weave.example/";
  const reach = reachAt(await plan(), noProgress, now());
  const item = Object.values(desk.plan.items).find(
    (one) =>
      one.kind !== "folder" &&
      reach.students.some((_, at) => !hasBit(reach.sees(one), at)) &&
      listBits(reach.sees(one)).length > 0,
  ) as Item;
  const of = (place: number | undefined) => reach.students[place ?? -1] ?? "";
  const seeing = of(listBits(reach.sees(item))[0]);
  const other = of(reach.students.findIndex((_, at) => !hasBit(reach.sees(item), at)));
  const both = { ...message("About", [seeing, other]), itemId: item.id };
  await sendMessage(await plan(), desk.first, both, now());
  await sendMessage(await plan(), desk.first, { ...message("By the course", [seeing]), from: "course" }, now());
  await sendDue(later());
  delete process.env.AMBER_ADDRESS;
  const [mine] = (await arrived("About")).filter(({ to }) => to === desk.plan.people[seeing]?.email);
  const [theirs] = (await arrived("About")).filter(({ to }) => to === desk.plan.people[other]?.email);
  const course = `${desk.plan.course.code} ${desk.plan.course.title}`;
  const link = `${item.title}: https://weave.example/course/${courseId}/item/${item.id}`;
  expect(mine?.text).toContain(link);
  expect(mine?.text).toMatch(new RegExp(`-- \\n\\S.*, ${course}\\n`));
  expect(theirs?.text).not.toContain(item.title);
  expect(theirs?.text).toContain(`https://weave.example/course/${courseId}/notices`);
  const [bare] = await arrived("By the course");
  expect(bare?.text).toContain(`-- \n${course}\n`);
  expect((await shown(seeing)).find(({ subject }) => subject === "About")).toMatchObject({ itemId: item.id });
  expect((await shown(other)).find(({ subject }) => subject === "About")).toMatchObject({ itemId: null });
  expect((await shown(seeing)).find(({ subject }) => subject === "By the course")?.sender).toBeNull();
});
test("whoever wants no mail finds all of it in the course; receipts come to whoever wants them, once, read", async () => {
  const [personId] = peopleWith("student") as [string];
  const account = await accountOfPerson(desk.plan, personId);
  await keepSettings(account, { mails: false, receipts: true });
  expect(await sendMessage(await plan(), desk.first, message("No mail", [personId]), now())).toEqual({
    recipients: 1,
    mails: 0,
  });
  const access = { whole: await plan(), courseId, membership: { personId, role: "student" } } as CourseAccess;
  const itemId = Object.keys(desk.plan.items)[0] ?? "";
  const unread = await unreadNotices(courseId, personId);
  const received = { id: v7(), itemId, at: now(), text: "My work", link: null, file: null };
  for (const _ of [1, 2]) await sendReceipt(access, account, received);
  const receipts = (await shown(personId)).filter(({ subject }) => subject.startsWith("Handed in: "));
  expect(receipts).toHaveLength(1);
  expect(receipts[0]?.body).toMatch(/^It arrived .*\n\nText:\n\nMy work$/);
  expect(await unreadNotices(courseId, personId)).toBe(unread);
  expect((await sentMessages(courseId, account)).map(({ subject }) => subject)).toEqual([]);
  await keepSettings(account, { mails: true, receipts: false });
  await sendReceipt(access, account, { ...received, id: v7() });
  expect((await shown(personId)).filter(({ subject }) => subject.startsWith("Handed in: "))).toHaveLength(1);
});
test("a student's message reaches the staff that was chosen among theirs, who can answer, and nobody else", async () => {
  const whole = await plan();
  const [personId] = peopleWith("student") as [string];
  const account = await accountOfPerson(desk.plan, personId);
  const access = { whole, plan: whole, courseId, membership: { personId, role: "student" } } as CourseAccess;
  const staff = staffToWriteTo(whole, personId, now());
  const form = (fields: Record<string, string>) => {
    const made = new FormData();
    for (const [name, value] of Object.entries(fields)) made.append(name, value);
    return made;
  };
  const [somebody] = peopleWith("support");
  const words = { subject: "A question", text: "When is {due of Lab 1}?", to: somebody ?? "" };
  expect(await writeToStaff(access, account, form({ ...words, subject: "" }))).toMatchObject({
    failure: expect.stringMatching(/subject/),
  });
  const send = v7();
  for (const _ of [1, 2])
    expect(await writeToStaff(access, account, form({ ...words, send }))).toEqual({ stored: send });
  await sendDue(later());
  const got = await arrived("A question");
  expect(got.map(({ to }) => to).sort()).toEqual(staff.map(({ email }) => email).sort());
  expect(got[0]?.text).toContain("When is {due of Lab 1}?");
  const [sent] = await sentMessages(courseId, account);
  expect(sent).toMatchObject({ subject: "A question", recipients: staff.length });
  const closed = { ...access, whole: { ...whole, course: { ...whole.course, mayWriteToStaff: false } } };
  expect(await writeToStaff(closed, account, form(words))).toBe("not theirs");
});
