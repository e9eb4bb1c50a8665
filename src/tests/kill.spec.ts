/**
 * The application and the database are killed fifty times in the middle of publishing, taking in, marking, answering a quiz and writing:
 * afterwards everything is as before or as after, never between, and no message is lost or doubled.
 */
import { expect, test } from "@playwright/test";
import mysql, { type Connection, type RowDataPacket } from "mysql2/promise";
import { v7 } from "uuid";
import { startCrashing } from "../../scripts/lib/crash.mjs";
import type { Plan } from "../core/plan/types.ts";
import { password } from "./helpers.ts";

const rounds = 50;
/** The same moments whenever it runs, from the first answers of a request to well after its last. */
/** Moments from the beginning of what is done to half as long again as it takes undisturbed, in milliseconds. */
const delayOf = (round: number, usual: number) => (((round * 7919) % 90) / 90) * 1.5 * usual;

test("killed fifty times, it is as before or as after", async () => {
  test.setTimeout(1_800_000);
  const here = await startCrashing("kill", 4700);
  let database: Connection = await mysql.createConnection(here.databaseUrl);
  const sendForm = (path: string, fields: Record<string, string>, cookie = "") =>
    fetch(here.url + path, {
      method: "POST",
      redirect: "manual",
      headers: { cookie, origin: here.url, "content-type": "application/x-www-form-urlencoded" },
      body: new URLSearchParams(fields),
    });
  const cookieOf = async (username: string) =>
    ((await sendForm("/sign-in", { username, password })).headers.get("set-cookie") ?? "").split(";")[0] as string;
  const [coordinator, student] = [await cookieOf("coordinator"), await cookieOf("student.day")];
  const ask = async (path: string, body?: unknown, cookie = coordinator) => {
    const answer = await fetch(here.url + path, {
      method: body === undefined ? "GET" : "POST",
      headers: { cookie, origin: here.url, ...(body === undefined ? {} : { "content-type": "application/json" }) },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    return { status: answer.status, body: await answer.json() };
  };
  const one = async (sql: string, values: (string | number)[] = []): Promise<number> => {
    const [rows] = await database.execute<RowDataPacket[]>(sql, values);
    return Number(Object.values(rows[0] ?? {})[0] ?? 0);
  };
  const [[course]] = await database.execute<RowDataPacket[]>("SELECT id FROM courses WHERE code = 'WSH 240'");
  const id = String(course?.id);
  const address = `/api/courses/${id}`;
  const { body: start } = await ask(`${address}/plan`);
  const plan = start.plan as Plan;
  const people = [
    ...new Set(
      Object.values(plan.enrolments)
        .filter(
          ({ role, until, sectionId }) =>
            role === "student" && until === null && plan.sections[sectionId ?? ""]?.code === "D1",
        )
        .map(({ personId }) => personId),
    ),
  ].slice(0, 25);
  const item = Object.values(plan.items).find(({ title }) => title === "Lab 1: Float gauging")?.id ?? "";
  const sentIds: string[] = [];
  // A student works on a quiz meanwhile.
  const quiz = Object.values(plan.items).find(({ title }) => title === "Safety check");
  const working = `/course/${id}/item/${quiz?.id}`;
  await sendForm(working, { begin: "1" }, student);
  const [[attempt]] = await database.execute<RowDataPacket[]>(
    `SELECT a.id FROM attempts a JOIN people p ON p.id = a.holder_id
     WHERE a.item_id = ? AND a.ended_at IS NULL AND p.username = 'student.day'`,
    [quiz?.id ?? ""],
  );
  const typed = (quiz?.quiz?.parts ?? [])
    .flatMap(({ questions }) => questions)
    .filter(({ kind }) => kind === "number" || kind === "short");
  let sequence = 0;

  /** Each gives the request that is cut off, and what is asked afterwards: 0 for before, 1 for after, never between. */
  const actions = [
    async (round: number) => {
      const titles = Object.values(plan.items)
        .slice(0, 20)
        .map(({ id: itemId }) => ({ id: v7(), kind: "item.change", itemId, fields: { title: `Title ${round}` } }));
      const { body: draft } = await ask(`${address}/draft`, { commands: titles });
      const { body: now } = await ask(`${address}/plan`);
      const request = { publicationId: v7(), revision: now.revision, version: draft.version };
      return {
        send: () => ask(`${address}/publish`, request),
        async check() {
          const share = (await one("SELECT COUNT(*) FROM items WHERE title = ?", [`Title ${round}`])) / 20;
          expect(await one("SELECT COUNT(*) FROM publications WHERE id = ?", [request.publicationId])).toBe(share);
          expect(await one("SELECT COUNT(*) FROM draft_commands")).toBe(share === 1 ? 0 : 20);
          expect(await one("SELECT revision FROM courses WHERE id = ?", [id])).toBe(now.revision + share);
          const lines = "SELECT COUNT(*) FROM journal WHERE course_id = ? AND revision = ?";
          expect(await one(lines, [id, now.revision + 1])).toBe(share * 20);
          const step = "SELECT COUNT(*) FROM revisions WHERE course_id = ? AND revision = ?";
          expect(await one(step, [id, now.revision + 1])).toBe(share);
          return share;
        },
      };
    },
    async (round: number) => {
      const { body: progress } = await ask(`${address}/progress`);
      const marks = people.map((personId) => {
        const was = progress.marks.find(
          (mark: { itemId: string; personId: string }) => mark.itemId === item && mark.personId === personId,
        );
        const seen = was ? { points: was.points, excused: was.excused } : null;
        return { itemId: item, personId, points: round / 8, excused: false, seen };
      });
      const before = await one("SELECT COUNT(*) FROM journal WHERE kind = 'marks'");
      return {
        send: () => ask(`${address}/marks`, { marks }),
        async check() {
          const given = "SELECT COUNT(*) FROM marks WHERE item_id = ? AND points = ?";
          const share = (await one(given, [item, round / 8])) / people.length;
          expect(await one("SELECT COUNT(*) FROM journal WHERE kind = 'marks'")).toBe(before + share);
          return share;
        },
      };
    },
    async (round: number) => {
      const { body: now } = await ask(`${address}/plan`);
      const blank = {
        file: "f",
        line: 2,
        username: "",
        email: "",
        givenName: "",
        familyName: "",
        sectionTitle: "",
        meets: "",
      };
      const rows = people.map((personId) => ({
        ...blank,
        sourcedId: plan.people[personId]?.sourcedId,
        sectionCode: "D1",
        role: "student",
        attributes: { Locker: `L${round}` },
        problem: null,
      }));
      const options = { partial: true, acceptedSections: [], chosen: [], samePeople: {} };
      const intakeId = v7();
      const request = {
        intakeId,
        revision: now.revision,
        rows,
        options,
        sectionLayer: null,
        pullId: null,
        files: ["f"],
        remember: [],
      };
      return {
        send: () => ask(`${address}/intake`, request),
        async check() {
          const noted = "SELECT COUNT(*) FROM people WHERE JSON_VALUE(attributes, '$.Locker') = ?";
          const share = (await one(noted, [`L${round}`])) / people.length;
          expect(await one("SELECT COUNT(*) FROM intakes WHERE id = ?", [intakeId])).toBe(share);
          expect(await one("SELECT revision FROM courses WHERE id = ?", [id])).toBe(now.revision + share);
          return share;
        },
      };
    },
    async () => {
      const own = ++sequence;
      const answers = typed.map((question) => ({ questionId: question.id, answer: `Answer ${own}`, sequence: own }));
      return {
        send: () => ask(`${working}/attempt/save`, { attemptId: attempt?.id, answers }, student),
        async check() {
          const saved = "SELECT COUNT(*) FROM attempt_answers WHERE attempt_id = ? AND sequence = ? AND answer = ?";
          return (await one(saved, [String(attempt?.id), own, `"Answer ${own}"`])) / typed.length;
        },
      };
    },
    async (round: number) => {
      const message = {
        id: v7(),
        subject: `Message ${round}`,
        body: "Dear {given name}",
        to: people.slice(0, 12).map((personId) => ({ kind: "person", id: personId })),
        unplacedIn: [],
        withStaff: false,
      };
      sentIds.push(message.id);
      return {
        send: () => ask(`${address}/messages`, message),
        async check() {
          const share = (await one("SELECT COUNT(*) FROM deliveries WHERE message_id = ?", [message.id])) / 12;
          expect(await one("SELECT COUNT(*) FROM messages WHERE id = ?", [message.id])).toBe(share);
          const lines = "SELECT COUNT(*) FROM journal WHERE kind = 'message' AND detail LIKE ?";
          expect(await one(lines, [`%${message.id}%`])).toBe(share);
          return share;
        },
      };
    },
  ];

  const seen = new Set<string>();
  /** How long each takes on this machine, as busy as it is. */
  const usual: number[] = [];
  try {
    for (const [which, action] of actions.entries()) {
      const did = await action(60 + which);
      const begun = performance.now();
      await did.send();
      usual[which] = performance.now() - begun;
    }
    for (let round = 1; round <= rounds; round++) {
      const which = round % actions.length;
      const did = await (actions[which] as (typeof actions)[number])(round);
      const sending = did.send().catch(() => null);
      await new Promise((resolve) => setTimeout(resolve, delayOf(round, usual[which] ?? 90)));
      // A fifth of the time it is the database, of each of them.
      if (Math.floor(round / actions.length) % 5 === 4) {
        await here.killDatabase();
        await sending;
        await here.startDatabase();
        database.destroy();
        database = await mysql.createConnection(here.databaseUrl);
      } else {
        await here.killApplication();
        await sending;
        await here.startApplication();
      }
      const share = await did.check();
      expect([round, [0, 1].includes(share)]).toEqual([round, true]);
      seen.add(`${which}: ${share}`);
      // Sent again, it is done, and done once.
      const again = await did.send();
      expect([round, again.status]).toEqual([round, again.status < 300 ? again.status : 0]);
      expect([round, await did.check()]).toEqual([round, 1]);
    }
    // It was cut off both before and after it was done, or nothing was tried.
    expect([...seen].some((one) => one.endsWith("0"))).toBe(true);
    expect([...seen].some((one) => one.endsWith("1"))).toBe(true);
    const waiting = () => one("SELECT COUNT(*) FROM deliveries WHERE state <> 'sent'");
    await expect.poll(waiting, { timeout: 300_000 }).toBe(0);
    const letters: { to: string; subject: string }[] = await (await fetch(`${here.postUrl}/letters.json`)).json();
    const kinds = new Set(letters.map(({ to, subject }) => `${to} ${subject}`));
    expect([letters.length, kinds.size]).toEqual([sentIds.length * 12, sentIds.length * 12]);
  } finally {
    database.destroy();
    await here.stop();
  }
});
