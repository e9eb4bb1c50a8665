/** Calendars on the real database: sequence numbers, addresses, and who still reads what. */

import { gunzipSync } from "node:zlib";
import ICAL from "ical.js";
import { v7 } from "uuid";
import { afterAll, beforeAll, expect, test } from "vitest";
import { mostAddresses, type Whose } from "../../api/calendars.ts";
import type { Plan } from "../../core/plan/types.ts";
import { type Desk, live, openDesk } from "../../tests/desk.ts";
import { createAccount } from "../accounts/accounts.ts";
import { course } from "../store/courses.ts";
import { closeDatabase, rows } from "../store/database.ts";
import { addressesOf, calendarAt, makeAddress, withdrawAddress } from "./calendar-addresses.ts";
import { calendarAnswer, calendarFile } from "./calendars.ts";

let desk: Desk;
/** Account ids of people of the course, by username. */
const accounts: Record<string, string> = {};
beforeAll(async () => {
  desk = await openDesk();
  for (const username of ["coordinator", "student.day", "student.evening"]) {
    const person = Object.values(desk.plan.people).find((one) => one.username === username);
    await createAccount({
      username,
      sourcedId: person?.sourcedId ?? "",
      displayName: username,
      passwordHash: "no password",
    });
    const [account] = await rows<{ id: string }>("SELECT id FROM accounts WHERE username = ?", [username]);
    accounts[username] = account?.id ?? "";
  }
});
afterAll(closeDatabase);

const current = async () => (await course(desk.courseId))?.plan as Plan;
const eventsOf = (file: string | null) =>
  new ICAL.Component(ICAL.parse(file ?? "")).getAllSubcomponents("vevent").map((one) => new ICAL.Event(one));
const read = async (whose: Whose) => eventsOf(await calendarFile(desk.courseId, whose, { origin: "http://here" }));
const tokenOf = (address: string | null) => (address ?? "").slice("/calendar/".length).replace(".ics", "");
const named = async (title: string) =>
  Object.values((await current()).items).find((one) => one.title === title)?.id ?? "";

test("what changes counts one up under the same UID; what stays keeps its number", async () => {
  const staff = { kind: "staff" as const };
  const before = await read(staff);
  expect(new Set(before.map(({ uid }) => uid)).size).toBe(before.length);
  expect(before.every(({ sequence }) => sequence === 0)).toBe(true);
  expect((await read(staff)).map(({ uid, sequence }) => [uid, sequence])).toEqual(before.map(({ uid }) => [uid, 0]));
  const was = before.filter(({ summary }) => summary.startsWith("Final report due"));
  await live(desk, { kind: "dates.set", itemIds: [await named("Final report")], dates: { due: "2026-12-19T17:00" } });
  const after = await read(staff);
  const is = after.filter(({ summary }) => summary.startsWith("Final report due"));
  const byUid = (list: typeof is) => list.map(({ uid }) => uid).sort();
  expect(byUid(is)).toEqual(byUid(was));
  expect(is.length).toBeGreaterThan(1);
  expect(new Set(is.map(({ sequence }) => sequence))).toEqual(new Set([1]));
  expect(is.map(({ startDate }) => startDate.toString())).toContain("2026-12-19T17:00:00Z");
  const others = after.filter(({ uid }) => !byUid(is).includes(uid));
  expect(others.every(({ sequence }) => sequence === 0)).toBe(true);
});

test("a student's holds nothing that they may not see, and no word of private layers", async () => {
  const plan = await current();
  const person = Object.values(plan.people).find(({ username }) => username === "student.day");
  const file = await calendarFile(desk.courseId, { kind: "student", id: person?.id ?? "" }, { origin: "http://here" });
  const summaries = eventsOf(file).map(({ summary }) => summary);
  expect(summaries).toContain("Lab 4: Rating the weir due");
  expect(summaries.some((one) => one.startsWith("South bank") || one.includes("Orthophoto"))).toBe(false);
  for (const layer of Object.values(plan.layers).filter((one) => one.private)) expect(file).not.toContain(layer.name);
  expect(await calendarFile(desk.courseId, { kind: "student", id: v7() }, { origin: null })).toBeNull();
  expect(await calendarFile(desk.courseId, { kind: "group", id: v7() }, { origin: null })).toBeNull();
});

test("one account has at most five addresses of a calendar, also when they are asked for at once; one withdrawn makes room", async () => {
  const { courseId } = desk;
  const [first, plan] = [accounts.coordinator ?? "", await current()];
  const [person, other] = Object.values(plan.people);
  const ask = (id: string) => makeAddress(courseId, first, { kind: "student", id });
  const asked = await Promise.all(Array.from({ length: 12 }, () => ask(person?.id ?? "")));
  expect(asked.filter((address) => address !== null)).toHaveLength(mostAddresses);
  expect(await ask(other?.id ?? "")).not.toBeNull();
  const own = (await addressesOf(courseId, plan, first, false)).filter(({ kind }) => kind === "student");
  for (const { id } of own) await withdrawAddress(courseId, id, null);
  expect(await ask(person?.id ?? "")).not.toBeNull();
});

test("an address is read by whoever has it until it is withdrawn, or its maker may see it no longer", async () => {
  const { courseId } = desk;
  const first = accounts.coordinator ?? "";
  const plan = await current();
  const token = tokenOf(await makeAddress(courseId, first, { kind: "staff" }));
  expect(await calendarAt(token, { origin: "http://here" })).toContain("BEGIN:VCALENDAR");
  // Only a digest is kept.
  expect(JSON.stringify(await rows("SELECT * FROM calendar_addresses"))).not.toContain(token);
  const [address] = await addressesOf(courseId, plan, first, false);
  expect(address).toMatchObject({ kind: "staff", own: true, readAt: expect.any(Number) });
  expect(await withdrawAddress(courseId, address?.id ?? "", desk.second)).toBe(false);
  expect(await calendarAt(token, { origin: "http://here" })).not.toBeNull();
  expect(await withdrawAddress(courseId, address?.id ?? "", null)).toBe(true);
  expect(await calendarAt(token, { origin: "http://here" })).toBeNull();
  expect(await calendarAt("never", { origin: "http://here" })).toBeNull();
});

test("a student's own address ends with their enrolment, and gives nobody else's calendar", async () => {
  const { courseId } = desk;
  const plan = await current();
  const person = Object.values(plan.people).find(({ username }) => username === "student.evening");
  const account = accounts["student.evening"] ?? "";
  const own = tokenOf(await makeAddress(courseId, account, { kind: "student", id: person?.id ?? "" }));
  const other = Object.values(plan.people).find(({ username }) => username === "student.day");
  const foreign = tokenOf(await makeAddress(courseId, account, { kind: "student", id: other?.id ?? "" }));
  const staffs = tokenOf(await makeAddress(courseId, account, { kind: "staff" }));
  expect(await calendarAt(own, { origin: "http://here" })).toContain("meeting 1");
  expect(await calendarAt(foreign, { origin: "http://here" })).toBeNull();
  expect(await calendarAt(staffs, { origin: "http://here" })).toBeNull();
  const enrolment = Object.values(plan.enrolments).find(
    ({ personId, until }) => personId === person?.id && until === null,
  );
  await live(desk, { kind: "enrolment.end", enrolmentIds: [enrolment?.id] });
  expect(await calendarAt(own, { origin: "http://here" })).toBeNull();
});

test("what is gone is told as cancelled under its id, with nothing of what it was; what comes back goes on counting", async () => {
  const staff = { kind: "staff" as const };
  const itemId = await named("Lab 2: Current meter");
  const raw = async () => (await calendarFile(desk.courseId, staff, { origin: null })) ?? "";
  const { dates } = (await current()).items[itemId] as { dates: { due?: unknown } };
  const before = (await read(staff)).filter(({ summary }) => summary.startsWith("Lab 2: Current meter due"));
  expect(before.length).toBeGreaterThan(0);
  const statuses = async () => {
    const uids = new Set(before.map(({ uid }) => uid));
    return (await read(staff))
      .filter(({ uid }) => uids.has(uid))
      .map(({ component, summary }) => [component.getFirstPropertyValue("status"), summary === "Withdrawn"]);
  };
  await live(desk, { kind: "dates.set", itemIds: [itemId], dates: { due: null } });
  const gone = (await read(staff)).find(({ uid }) => uid === before[0]?.uid);
  expect(gone?.sequence).toBe((before[0]?.sequence ?? 0) + 1);
  expect(await statuses()).toContainEqual(["CANCELLED", true]);
  expect((await raw()).split("STATUS:CANCELLED")).not.toHaveLength(1);
  // Read again nothing is counted anew.
  expect((await read(staff)).find(({ uid }) => uid === gone?.uid)?.sequence).toBe(gone?.sequence);
  await live(desk, { kind: "dates.set", itemIds: [itemId], dates: { due: dates.due as never } });
  const back = (await read(staff)).find(({ uid }) => uid === before[0]?.uid);
  expect([back?.sequence, back?.summary]).toEqual([(before[0]?.sequence ?? 0) + 2, before[0]?.summary]);
});

test("whoever has the file as it is gets nothing again, and it is packed for whoever can unpack it", async () => {
  const file = (await calendarFile(desk.courseId, { kind: "staff" }, { origin: null })) ?? "";
  const asked = (headers: Record<string, string>) =>
    calendarAnswer(new Request("http://here/calendar/x.ics", { headers }), file, "dates");
  const plain = asked({});
  const etag = plain.headers.get("etag") ?? "";
  expect(await plain.text()).toBe(file);
  expect(asked({ "if-none-match": etag }).status).toBe(304);
  expect(asked({ "if-none-match": `"other", W/${etag}` }).status).toBe(304);
  expect(asked({ "if-none-match": '"other"' }).status).toBe(200);
  const packed = asked({ "accept-encoding": "br, gzip" });
  expect([packed.headers.get("content-encoding"), packed.headers.get("vary")]).toEqual(["gzip", "accept-encoding"]);
  expect(packed.headers.get("etag")).not.toBe(etag);
  expect(gunzipSync(new Uint8Array(await packed.arrayBuffer())).toString()).toBe(file);
});
