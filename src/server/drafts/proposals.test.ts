/** Proposals and group pages on the real database: all or nothing, nothing lost, and names within the scope. */
import { v7 } from "uuid";
import { afterAll, beforeAll, beforeEach, expect, test } from "vitest";
import { planWithin } from "../../core/access/plan-within.ts";
import { membershipOf } from "../../core/access/roles.ts";
import { scopeOf } from "../../core/access/scope.ts";
import { changeStaff } from "../../core/access/staff.ts";
import { Command } from "../../core/commands.ts";
import { studentsOf } from "../../core/placement/membership.ts";
import { isRefusal } from "../../core/plan/command.ts";
import { blankItem } from "../../core/plan/types.ts";
import { whyNotDraftAll } from "../../core/review/within-scope.ts";
import { coordinatorOf, type Desk, openDesk } from "../../tests/desk.ts";
import { createAccount } from "../accounts/accounts.ts";
import { now } from "../clock.ts";
import { liveStep } from "../course/live-step.ts";
import { noticesOf, sentMessages } from "../course/messages.ts";
import { addStaffNote, endStaffNote, mayNote, staffNotes } from "../course/staff-notes.ts";
import { addEntry, changeEntry, endEntry, entriesOf, versionsOfEntries, writeOnly } from "../groups/entries.ts";
import { staffGroupPage } from "../groups/page.ts";
import type { CourseAccess } from "../http/guard.ts";
import { course } from "../store/courses.ts";
import { closeDatabase, rows, run } from "../store/database.ts";
import { addCommands, readDraft, stepDraft } from "./drafts.ts";
import { drafterOf, proposalsOf, propose, takeProposal, takeProposalBack } from "./proposals.ts";
import { publish } from "./publishing.ts";

let desk: Desk;
let courseId = "";
let coordinator = "";
let support = "";
let supportId = "";
const groupNamed = (name: string) => Object.values(desk.plan.groups).find((one) => one.name === name)?.id ?? "";

beforeAll(async () => {
  desk = await openDesk();
  ({ courseId } = desk);
  coordinator = await coordinatorOf(desk);
  const person = Object.values(desk.plan.people).find(({ username }) => username === "support.access");
  supportId = person?.id ?? "";
  const sourcedId = person?.sourcedId ?? "";
  await createAccount({ username: sourcedId, sourcedId, displayName: "Support", passwordHash: "none" });
  const [account] = await rows<{ id: string }>("SELECT id FROM accounts WHERE sourced_id = ?", [sourcedId]);
  support = account?.id ?? "";
  await liveStep(courseId, coordinator, "staff", (plan, at) => {
    const given = { role: "support" as const, sectionIds: [], groupIds: [groupNamed("Extra time")], may: [] };
    const next = changeStaff(plan, v7(), supportId, given, at);
    return isRefusal(next) ? next : { plan: next, says: "Gave Extra time" };
  });
});
afterAll(closeDatabase);
beforeEach(() => run("DELETE FROM draft_commands WHERE course_id = ?", [courseId]));

const asMember = (access: CourseAccess) => ({ courseId, seesAll: access.scope === null, access: async () => access });
async function seatOf(sourcedId: string): Promise<CourseAccess> {
  const stored = await course(courseId);
  const membership = stored && membershipOf(stored.plan, sourcedId, now());
  if (!stored || !membership) throw new Error(`${sourcedId} is not in the course`);
  const whole = stored.plan;
  const scope = membership.role === "coordinator" ? null : scopeOf(whole, membership.personId, now());
  const plan = scope ? planWithin(whole, membership.personId, scope, now()) : whole;
  return { ...stored, plan, whole, courseId, membership, scope };
}
const mine = () => seatOf(desk.plan.people[supportId]?.sourcedId ?? "");
const coordinators = async () => {
  const [account] = await rows<{ sourced: string }>("SELECT sourced_id AS sourced FROM accounts WHERE id = ?", [
    coordinator,
  ]);
  return seatOf(account?.sourced ?? "");
};
const page = (title: string) =>
  Command.parse({
    id: v7(),
    kind: "item.add",
    item: {
      ...blankItem,
      id: v7(),
      parentId: null,
      position: 500,
      kind: "page",
      title,
      owners: [supportId],
      audience: { to: [{ kind: "group", id: groupNamed("Extra time") }], minus: [] },
    },
  });
async function drafted(...titles: string[]): Promise<Command[]> {
  const commands = titles.map(page);
  const draft = await addCommands(courseId, support, commands);
  if (isRefusal(draft)) throw new Error(draft.sentence);
  return commands;
}
async function proposed(...titles: string[]): Promise<string> {
  await drafted(...titles);
  const made = await propose(await mine(), support, []);
  if ("refused" in made) throw new Error(made.sentence);
  return made.id;
}
const titlesIn = async (accountId: string) =>
  (await readDraft(courseId, accountId)).commands.flatMap((one) => (one.kind === "item.add" ? [one.item.title] : []));

test("what is proposed leaves the draft, but for what stays, and waits for the coordinator in words", async () => {
  const [first] = await drafted("One", "Two");
  const made = await propose(await mine(), support, [first?.id ?? ""]);
  expect("refused" in made).toBe(false);
  expect(await titlesIn(support)).toEqual(["One"]);
  const [waiting] = await proposalsOf(asMember(await coordinators()), coordinator);
  expect(waiting).toMatchObject({
    by: "Support",
    state: "waiting",
    lines: [{ says: "New page Two, for Extra time", why: null }],
  });
  const [own] = await proposalsOf(asMember(await mine()), support);
  expect([own?.id, own?.commands]).toEqual([waiting?.id, []]);
  expect(await takeProposalBack(courseId, support, waiting?.id ?? "")).toBe(true);
  expect(await titlesIn(support)).toEqual(["One", "Two"]);
  expect(
    await propose(
      await mine(),
      support,
      (await readDraft(courseId, support)).commands.map(({ id }) => id),
    ),
  ).toMatchObject({
    code: "proposal.empty",
  });
});

test("part of it is taken, the rest is the author's again with a word; twice or by somebody else it is not there", async () => {
  const id = await proposed("Three", "Four");
  const [waiting] = await proposalsOf(asMember(await coordinators()), coordinator);
  expect(await takeProposalBack(courseId, coordinator, id)).toBe(false);
  const answers = await Promise.all(
    [0, 1].map(async () =>
      takeProposal(await coordinators(), coordinator, id, [waiting?.lines[1]?.id ?? ""], "Not three."),
    ),
  );
  expect(answers.sort()).toEqual(["gone", "taken"]);
  expect([await titlesIn(coordinator), await titlesIn(support)]).toEqual([["Four"], ["Three"]]);
  const [own] = await proposalsOf(asMember(await mine()), support);
  expect(own).toMatchObject({ state: "handed back", answer: "Not three.", taken: 1 });
});

test("its author is told of it to its end: what was taken, what was handed back with which word, and what went out", async () => {
  await run("DELETE FROM deliveries WHERE course_id = ?", [courseId]);
  const id = await proposed("Seven", "Eight", "Nine");
  const [waiting] = await proposalsOf(asMember(await coordinators()), coordinator);
  const lines = waiting?.lines.map((one) => one.id) ?? [];
  await takeProposal(await coordinators(), coordinator, id, lines.slice(1), "Seven is there already.");
  const told = async () => (await noticesOf(courseId, supportId)).map(({ subject, body }) => [subject, body]);
  const taken = [
    "What you proposed is taken: 2 of 3 changes",
    [
      "“Seven is there already.”",
      "Handed back: New page Seven, for Extra time",
      "Taken: New page Eight, for Extra time",
      "Taken: New page Nine, for Extra time",
    ].join("\n"),
  ];
  expect(await told()).toEqual([taken]);
  const send = async (leave: string[], publicationId = v7()) => {
    const revision = (await course(courseId))?.revision ?? 0;
    const { version } = await readDraft(courseId, coordinator);
    return publish(courseId, coordinator, { publicationId, leave, revision, version });
  };
  const own = async () => (await proposalsOf(asMember(await mine()), support)).find((one) => one.id === id);
  const first = v7();
  for (const _ of ["once", "sent again"])
    expect(await send([lines[2] ?? ""], first)).toMatchObject({ published: true });
  expect(await own()).toMatchObject({ taken: 2, published: 1 });
  expect((await own())?.publishedAt).toBeGreaterThan(0);
  await send([]);
  expect(await own()).toMatchObject({ taken: 2, published: 2 });
  expect((await told()).reverse()).toEqual([
    taken,
    ["What you proposed is published: 1 of 2 changes", "New page Eight, for Extra time"],
    ["What you proposed is published: 2 changes", "New page Nine, for Extra time"],
  ]);
  // The coordinator sent none of these by hand.
  expect((await sentMessages(courseId, coordinator)).filter(({ subject }) => /you proposed/.test(subject))).toEqual([]);
});

test("where a line does not fit the coordinator's draft nothing is taken, and the proposal waits as it was", async () => {
  const id = await proposed("Five", "Six");
  const [waiting] = await proposalsOf(asMember(await coordinators()), coordinator);
  const [line] = waiting?.commands ?? [];
  const same = line?.kind === "item.add" ? Command.parse({ ...line, id: v7() }) : null;
  await addCommands(courseId, coordinator, same ? [same] : []);
  const all = waiting?.lines.map((one) => one.id) ?? [];
  expect(await takeProposal(await coordinators(), coordinator, id, all, "")).toMatchObject({ code: "item.there" });
  expect((await proposalsOf(asMember(await coordinators()), coordinator)).map((one) => [one.id, one.state])).toEqual([
    [id, "waiting"],
  ]);
  expect([await titlesIn(coordinator), await titlesIn(support)]).toEqual([["Five"], []]);
  await stepDraft(courseId, coordinator, "undo all");
  expect(await takeProposal(await coordinators(), coordinator, id, [], "No.")).toBe("taken");
  expect(await titlesIn(support)).toEqual(["Five", "Six"]);
  const [notice] = await noticesOf(courseId, supportId);
  expect([notice?.subject, notice?.body.split("\n")[0]]).toEqual(["What you proposed is handed back", "“No.”"]);
});

test("a draft is held to the scope command by command, each over what was drafted before it", async () => {
  const drafter = drafterOf(await mine());
  if (!drafter) throw new Error("a coordinator");
  const made = page("Mine");
  if (made.kind !== "item.add") throw new Error("not an item");
  const rename = Command.parse({
    id: v7(),
    kind: "item.change",
    itemId: made.item.id,
    fields: { title: "Still mine" },
  });
  expect(whyNotDraftAll(desk.plan, drafter, [made, rename], Date.now())).toBeNull();
  expect(whyNotDraftAll(desk.plan, drafter, [rename], Date.now())?.code).toBe("scope.owner");
  expect(drafterOf(await coordinators())).toBeNull();
});

test("a note that two change at once: one is stale; what it said is kept; one's own alone is taken away", async () => {
  const groupId = groupNamed("Day 1 team 1");
  const [one = "", other = ""] = studentsOf(desk.plan, groupId, desk.moment);
  const [note] = (await entriesOf(courseId, groupId)).filter(({ kind }) => kind === "note");
  const version = note?.version ?? 0;
  const answers = await Promise.all(
    [one, other].map((personId, at) =>
      writeOnly(courseId, groupId, "note", version, { title: "", body: `Said ${at}` }, personId, now()),
    ),
  );
  expect(answers.sort()).toEqual(["changed", "stale"]);
  expect((await versionsOfEntries([note?.id ?? ""])).map(({ body }) => body)).toEqual([note?.body]);
  const bare = groupNamed("Kit alder");
  const firsts = await Promise.all(
    [one, other].map((personId) => writeOnly(courseId, bare, "note", 0, { title: "", body: "First" }, personId, now())),
  );
  expect(firsts.sort()).toEqual(["changed", "stale"]);
  const notice = await addEntry(courseId, groupId, { kind: "notice", title: "T", body: "B" }, one, now());
  expect(await endEntry(courseId, groupId, notice, other, now())).toBe(false);
  expect(await endEntry(courseId, groupId, notice, one, now())).toBe(true);
  const text = { title: "T", body: "B" };
  expect(await changeEntry(courseId, groupId, notice, 1, text, one, now())).toBe("gone");
});

test("staff see a group's page where it is theirs, what members keep on it where all of it is, and notes likewise", async () => {
  const team = groupNamed("Day 1 team 1");
  expect((await staffGroupPage(await coordinators(), team))?.note).toMatchObject({ mine: false });
  const extra = groupNamed("Extra time");
  const shown = await staffGroupPage(await mine(), extra);
  expect(shown?.members?.length).toBe(studentsOf(desk.plan, extra, now()).length);
  // A team with one of their students in it: of the others, and of what they wrote, there is nothing.
  const access = await mine();
  const partly = Object.values(access.plan.groups).find(({ page: has, id }) => has && !access.scope?.own.has(id));
  const narrow = await staffGroupPage(access, partly?.id ?? "");
  expect([narrow?.thread, narrow?.note, narrow?.notices, narrow?.may.size]).toEqual([null, undefined, [], 0]);
  expect(narrow?.members?.every(({ id }) => access.scope?.personIds.has(id))).toBe(true);
  expect(mayNote(access, { kind: "group", id: partly?.id ?? "" })).toBe(false);
  expect(await staffGroupPage(access, v7())).toBeNull();
  const about = { kind: "group" as const, id: extra };
  await addStaffNote(access, about, "Room 12");
  const [note] = await staffNotes(await coordinators(), about);
  expect(note).toMatchObject({ body: "Room 12", mine: false });
  expect(await endStaffNote(await coordinators(), note?.id ?? "")).toBe(false);
  expect(await endStaffNote(access, note?.id ?? "")).toBe(true);
  expect(await staffNotes(access, about)).toEqual([]);
});
