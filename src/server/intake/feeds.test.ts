/** Rosters from the registrar, and undoing intakes, on the real database and the real stand-in. */

import { spawn } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { v4, v7 } from "uuid";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test } from "vitest";
import { storePlan } from "../../../demo/load.ts";
import { client } from "../../../demo/registrar/answers.ts";
import { makeScenario } from "../../../demo/scenario.ts";
import { startRegistrar } from "../../../scripts/lib/registrar.mjs";
import type { RosterRow } from "../../core/intake/rows.ts";
import { wholeRoster } from "../../core/intake/verdict.ts";
import { same } from "../../core/plan/difference.ts";
import { holdsAt } from "../../core/plan/lookup.ts";
import type { Plan } from "../../core/plan/types.ts";
import { createAccount, hashPassword } from "../accounts/accounts.ts";
import { course } from "../store/courses.ts";
import { closeDatabase, rows, run, transaction } from "../store/database.ts";
import { migrate } from "../store/migrate.ts";
import { feedOf, nextNight, openPull, pull, pullDue, pullsOf, setFeed, settlePull } from "./feeds.ts";
import { applyIntake, type IntakeRequest, openIntake, pastIntakes, undoIntake } from "./intakes.ts";
import { registrarClasses, registrarRoster, searchDirectory } from "./registrar.ts";

const folder = mkdtempSync(join(tmpdir(), "amber-registrar-"));
let registrar: Awaited<ReturnType<typeof startRegistrar>>;
let courseId = "";
let accountId = "";
const classes = ["wsh240-d1", "wsh240-d2", "wsh240-ev", "wsh240-dl"];
const settings = { classes, nightlyAt: null, appliesItself: false, leavingPercent: 5 };

const change = (action: string, fields: Record<string, string>) =>
  fetch(`${registrar.url}/${action}`, { method: "POST", body: new URLSearchParams(fields), redirect: "manual" });
const mood = (name: string) => change("mood", { mood: name });
const plan = async () => (await course(courseId))?.plan as Plan;
const set = (fields: object = {}) =>
  setFeed(courseId, accountId, { ...settings, ...fields }, "Europe/Dublin", Date.now());

beforeAll(async () => {
  await migrate(join(import.meta.dirname, "../../../database"), () => undefined);
  const scenario = makeScenario(Date.now(), v4());
  courseId = scenario.plan.course.id;
  await transaction((connection) => storePlan(scenario.plan, connection));
  await createAccount(
    { username: "feeds", sourcedId: "test-feeds", displayName: "Feeds" },
    await hashPassword("right"),
  );
  accountId = (await rows<{ id: string }>("SELECT id FROM accounts WHERE username = 'feeds'"))[0]?.id ?? "";
  registrar = await startRegistrar(folder, 4922);
  Object.assign(process.env, registrar.env);
  for (let tries = 0; tries < 200; tries++) {
    const up = await fetch(registrar.url).then(
      ({ ok }) => ok,
      () => false,
    );
    if (up) return;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
});
afterAll(async () => {
  await registrar.stop();
  rmSync(folder, { recursive: true, force: true });
  await closeDatabase();
});

describe("the registrar", () => {
  test("says which classes it has, and finds people by a part of their name or login", async () => {
    expect((await registrarClasses()).map(({ code }) => code)).toEqual(["D1", "D2", "EV", "DL"]);
    const found = await searchDirectory("okafor");
    expect(found.length).toBeGreaterThan(0);
    expect(
      found.every(({ familyName, givenName, username }) => /okafor/i.test(`${familyName} ${givenName} ${username}`)),
    ).toBe(true);
  });
  describe("by the standard's own ways", () => {
    const named = [
      "AMBER_REGISTRAR_TOKEN",
      "AMBER_REGISTRAR_VERSION",
      "AMBER_REGISTRAR_CLIENT_ID",
      "AMBER_REGISTRAR_CLIENT_SECRET",
    ];
    const before = () => named.map((name) => [name, process.env[name]] as const);
    let kept: ReturnType<typeof before>;
    beforeEach(() => {
      kept = before();
      delete process.env.AMBER_REGISTRAR_TOKEN;
      process.env.AMBER_REGISTRAR_CLIENT_ID = client.id;
      process.env.AMBER_REGISTRAR_CLIENT_SECRET = client.secret;
    });
    afterEach(() => {
      for (const [name, value] of kept)
        if (value === undefined) delete process.env[name];
        else process.env[name] = value;
    });
    test.each(["1.1", "1.2"])(
      "version %s: a token for a client's secret, every page however small, students and teachers",
      async (version) => {
        process.env.AMBER_REGISTRAR_VERSION = version;
        const [teacher] = await searchDirectory("31000");
        await change("teach", { class: "wsh240-d1", user: teacher?.sourcedId ?? "" });
        const { header, rows: found } = await registrarRoster(classes, "r");
        const role = header.indexOf("role");
        expect(found.filter((cells) => cells[role] === "student")).toHaveLength(104);
        expect(found.filter((cells) => cells[role] === "teacher").map((cells) => [cells[0], cells[5]])).toEqual([
          [teacher?.sourcedId, "D1"],
        ]);
        await change("teach", { class: "wsh240-d1", user: "" });
      },
    );
    test("a wrong secret is told, and nothing is drawn", async () => {
      process.env.AMBER_REGISTRAR_CLIENT_ID = "somebody";
      await expect(registrarClasses()).rejects.toThrow(/gave no token .*AMBER_REGISTRAR_CLIENT_ID/);
    });
  });
  test("without a class that is chosen, nothing is pulled, and it is said", async () => {
    expect(await pull(courseId, Date.now())).toMatchObject({
      state: "failed",
      says: expect.stringContaining("Choose the classes"),
    });
  });
  test.each([
    ["down", "refused (503)"],
    ["half an answer", "and stopped"],
    ["nonsense", "not a roster"],
  ])("%s: told, and nothing is taken in", async (name, words) => {
    await set();
    await mood(name);
    const before = await plan();
    expect(await pull(courseId, Date.now())).toMatchObject({ state: "failed", says: expect.stringContaining(words) });
    expect(await plan()).toEqual(before);
    await mood("well");
  });
  test("one that does not answer in time is told, and not waited for", async () => {
    process.env.AMBER_REGISTRAR_PATIENCE = "300";
    await mood("slow");
    expect(await pull(courseId, Date.now())).toMatchObject({
      state: "failed",
      says: expect.stringContaining("did not answer within 0.3 seconds"),
    });
    await mood("well");
    delete process.env.AMBER_REGISTRAR_PATIENCE;
  });
  test("a registrar that is not there at all is told the same way", async () => {
    const there = process.env.AMBER_REGISTRAR_URL;
    process.env.AMBER_REGISTRAR_URL = "http://127.0.0.1:9";
    expect(await pull(courseId, Date.now())).toMatchObject({
      state: "failed",
      says: expect.stringContaining("cannot be reached"),
    });
    process.env.AMBER_REGISTRAR_URL = there;
  });
  test("a pulled roster waits to be looked at, a newer one takes its place, and it can be put away once", async () => {
    await set();
    const older = await pull(courseId, Date.now());
    const newer = await pull(courseId, Date.now() + 1);
    expect([older.state, newer.state]).toEqual(["waiting", "waiting"]);
    const states = new Map((await pullsOf(courseId)).map(({ id, state }) => [id, state]));
    expect([states.get(older.id), states.get(newer.id)]).toEqual(["put away", "waiting"]);
    expect((await openPull(courseId, newer.id))?.rows.length).toBeGreaterThan(100);
    expect(await openPull(v4(), newer.id)).toBeNull();
    expect(await settlePull(courseId, newer.id, "put away")).toBe(true);
    expect(await settlePull(courseId, newer.id, "put away")).toBe(false);
  });
  test("beyond its limits it waits and says why; within them it applies itself, as whoever allowed it", async () => {
    await set({ appliesItself: true, leavingPercent: 0.5 });
    const before = await plan();
    expect(await pull(courseId, Date.now())).toMatchObject({
      state: "waiting",
      says: expect.stringMatching(/students would leave .*more than the 0.5 %/),
    });
    expect(await plan()).toEqual(before);
    await set({ appliesItself: true, leavingPercent: 5 });
    expect(await pull(courseId, Date.now())).toMatchObject({
      state: "applied",
      says: expect.stringContaining("applied itself"),
    });
    expect((await pastIntakes(courseId))[0]).toMatchObject({
      by: "Feeds",
      files: [expect.stringContaining("Registrar, ")],
    });
    expect(await pull(courseId, Date.now() + 1)).toMatchObject({ state: "applied", says: "nothing was different" });
  });
  test("someone added at the registrar arrives, and following layers follow", async () => {
    await change("add", { class: "wsh240-ev", user: "00310000" });
    expect(await pull(courseId, Date.now() + 2)).toMatchObject({
      state: "applied",
      says: expect.stringContaining("1 new"),
    });
    const now = await plan();
    const person = Object.values(now.people).find(({ sourcedId }) => sourcedId === "00310000");
    const groups = Object.values(now.placements)
      .filter((row) => row.personId === person?.id)
      .map(({ groupId }) => now.groups[groupId]?.name);
    expect(groups).toEqual(["Evening"]);
  });
  test("every night once, however many processes ask; the next night is the next one of the course's clock", async () => {
    expect(new Date(nextNight("02:30", "Europe/Dublin", Date.parse("2026-10-24T12:00:00Z"))).toISOString()).toBe(
      "2026-10-25T02:30:00.000Z",
    );
    expect(new Date(nextNight("02:30", "Europe/Dublin", Date.parse("2026-10-25T02:30:00Z"))).toISOString()).toBe(
      "2026-10-26T02:30:00.000Z",
    );
    await set({ nightlyAt: "02:30" });
    expect(await feedOf(courseId)).toMatchObject({ nightlyAt: "02:30", classes });
    const before = (await pullsOf(courseId)).length;
    expect(await pullDue(Date.now())).toBe(0);
    const later = Date.now() + 25 * 3_600_000;
    expect((await Promise.all([pullDue(later), pullDue(later)])).reduce((a, b) => a + b)).toBe(1);
    expect((await pullsOf(courseId)).length).toBe(before + 1);
    await set();
  });
});

describe("an applied intake", () => {
  const row = (sourcedId: string, sectionCode: string, fields: Partial<RosterRow> = {}): RosterRow => ({
    file: "late.csv",
    line: 2,
    sourcedId,
    username: "",
    email: "",
    givenName: "Late",
    familyName: "Comer",
    sectionCode,
    sectionTitle: "",
    meets: "",
    role: "student",
    attributes: {},
    problem: null,
    ...fields,
  });
  const take = async (judged: RosterRow[]): Promise<IntakeRequest> => {
    const request = {
      intakeId: v7(),
      revision: (await course(courseId))?.revision ?? 0,
      rows: judged,
      options: { ...wholeRoster, partial: true },
      sectionLayer: null,
      files: ["late.csv"],
    };
    expect(await applyIntake(courseId, accountId, request)).toMatchObject({ applied: true });
    return request;
  };
  test("is opened again as it was looked at, by nobody of another course", async () => {
    const { intakeId } = await take([row("late1", "D1"), row("", "D1", { line: 3, problem: "id: no id" })]);
    expect(await openIntake(courseId, intakeId)).toEqual({
      rows: [
        {
          file: "late.csv",
          line: 2,
          verdict: "new",
          says: "joins D1",
          name: "Comer, Late",
          sourcedId: "late1",
          sectionCode: "D1",
        },
        {
          file: "late.csv",
          line: 3,
          verdict: "unreadable",
          says: "id: no id",
          name: "Comer, Late",
          sourcedId: "",
          sectionCode: "D1",
        },
      ],
      missing: [],
    });
    expect(await openIntake(v4(), intakeId)).toBeNull();
  });
  test("is taken back whole, and the course is as it was before, read anew from the database", async () => {
    const before = await plan();
    const { intakeId } = await take([row("late2", "EV"), row("late3", "D2")]);
    expect(await undoIntake(v4(), accountId, intakeId)).toMatchObject({ undone: false, reason: "gone" });
    expect(await undoIntake(courseId, accountId, intakeId)).toMatchObject({ undone: true });
    expect(same(await plan(), before)).toBe(true);
    expect(await undoIntake(courseId, accountId, intakeId)).toEqual({ undone: false, reason: "undone" });
    expect((await pastIntakes(courseId))[0]).toMatchObject({
      id: intakeId,
      undoneBy: "Feeds",
      undoneAt: expect.any(Number),
    });
  });
  test("is kept while a later intake or a mark depends on it, with the reason", async () => {
    const { intakeId } = await take([row("late4", "EV")]);
    const item = Object.values((await plan()).items).find(({ points }) => points !== null);
    const person = Object.values((await plan()).people).find(({ sourcedId }) => sourcedId === "late4");
    await run("INSERT INTO marks (course_id, item_id, person_id, points, excused, at) VALUES (?, ?, ?, 1, FALSE, ?)", [
      courseId,
      item?.id ?? "",
      person?.id ?? "",
      Date.now(),
    ]);
    const later = await take([row("late4", "D1")]);
    expect(await undoIntake(courseId, accountId, intakeId)).toMatchObject({
      reason: "depends",
      dependents: expect.arrayContaining([
        "The enrolment of Comer, Late in EV has changed since",
        "Comer, Late has a mark",
      ]),
    });
    expect(await undoIntake(courseId, accountId, later.intakeId)).toMatchObject({ undone: true });
    const open = Object.values((await plan()).enrolments).filter(
      (one) => one.personId === person?.id && holdsAt(one, Date.now()),
    );
    expect(open.map(({ sectionId }) => sectionId)).toHaveLength(1);
  });
  test("is there whole or not at all, wherever its process or its connection is ended", async () => {
    const everyone = Array.from({ length: 1500 }, (_, at) => row(`many${at}`, "D1", { line: at + 2 }));
    const count = async () => {
      const [people] = await rows<{ n: number }>(
        "SELECT COUNT(*) AS n FROM people WHERE course_id = ? AND sourced_id LIKE 'many%'",
        [courseId],
      );
      const [enrolled] = await rows<{ n: number }>(
        "SELECT COUNT(*) AS n FROM enrolments e JOIN people p ON p.id = e.person_id WHERE e.course_id = ? AND p.sourced_id LIKE 'many%'",
        [courseId],
      );
      return [people?.n, enrolled?.n];
    };
    const file = join(folder, "request.json");
    const outcomes = new Set<unknown>();
    for (const pause of [0, 60, 120, 180, 260, 400]) {
      const request = {
        intakeId: v7(),
        revision: (await course(courseId))?.revision,
        rows: everyone,
        options: { ...wholeRoster, partial: true },
        sectionLayer: null,
        files: ["many.csv"],
      };
      writeFileSync(file, JSON.stringify({ courseId, accountId, request }));
      const child = spawn(process.execPath, ["--import", "tsx", "src/tests/apply-intake.ts", file], {
        stdio: ["ignore", "pipe", "inherit"],
      });
      const ended = new Promise((done) => child.once("exit", done));
      await new Promise((begun) => child.stdout.once("data", begun));
      await new Promise((resolve) => setTimeout(resolve, pause));
      child.kill("SIGKILL");
      await ended;
      // The database takes back what the dead process had not committed; the lock is free once it has.
      await transaction((connection) => rows("SELECT id FROM courses WHERE id = ? FOR UPDATE", [courseId], connection));
      const found = await count();
      expect([
        [0, 0],
        [1500, 1500],
      ]).toContainEqual(found);
      outcomes.add(found[0]);
      if (found[0] === 1500)
        expect(await undoIntake(courseId, accountId, request.intakeId)).toMatchObject({ undone: true });
      expect(await count()).toEqual([0, 0]);
    }
    expect(outcomes.has(0)).toBe(true);
  });
});
