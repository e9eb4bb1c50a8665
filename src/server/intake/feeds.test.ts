/** Rosters from the registrar, on the real database and the real stand-in. */

import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { v4 } from "uuid";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test } from "vitest";
import { storePlan } from "../../../demo/load.ts";
import { client } from "../../../demo/registrar/answers.ts";
import { makeScenario } from "../../../demo/scenario.ts";
import { startRegistrar } from "../../../scripts/lib/registrar.mjs";
import type { Plan } from "../../core/plan/types.ts";
import { createAccount } from "../accounts/accounts.ts";
import { hashPassword } from "../accounts/passwords.ts";
import { course } from "../store/courses.ts";
import { closeDatabase, rows, transaction } from "../store/database.ts";
import { migrate } from "../store/migrate.ts";
import { feedOf, nextNight, openPull, pull, pullDue, pullsOf, setFeed, settlePull } from "./feeds.ts";
import { pastIntakes } from "./intakes.ts";
import { registrarClasses, registrarRoster, searchDirectory } from "./registrar.ts";

const folder = mkdtempSync(join(tmpdir(), "amber-registrar-"));
let registrar: Awaited<ReturnType<typeof startRegistrar>>;
let courseId = "";
let accountId = "";
const classes = ["wsh240-d1", "wsh240-d2", "wsh240-ev", "wsh240-dl"];
const settings = { classes, nightlyAt: null, appliesItself: false, leavingPercent: 5, joiningPercent: 25 };

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
  await createAccount({
    username: "feeds",
    sourcedId: "test-feeds",
    displayName: "Feeds",
    passwordHash: await hashPassword("right"),
  });
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
    expect((await registrarClasses()).map(({ code }) => code)).toEqual(["D1", "D2", "EV", "DL", "A", "B", "C", "E"]);
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
    ["without end", "more than a course can have"],
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
      says: expect.stringMatching(/would leave a course of .*more than the 0.5 %/),
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
  test("who joins is limited as who leaves is", async () => {
    await change("add", { class: "wsh240-ev", user: "00310041" });
    await set({ appliesItself: true, joiningPercent: 0.5 });
    const before = await plan();
    expect(await pull(courseId, Date.now() + 3)).toMatchObject({
      state: "waiting",
      says: expect.stringMatching(/1 would join a course of \d+ students \(\d\.\d %\), more than the 0\.5 %/),
    });
    expect(await plan()).toEqual(before);
    await set({ appliesItself: true });
    expect(await pull(courseId, Date.now() + 4)).toMatchObject({ state: "applied" });
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
