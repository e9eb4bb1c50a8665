/** A kept home page is given only as long as it would be made the same. */
import { v7 } from "uuid";
import { afterAll, beforeAll, expect, test } from "vitest";
import { membershipOf } from "../../core/access/roles.ts";
import { blankMessage } from "../../core/messages/message.ts";
import { plainLocale } from "../../core/text/locale.ts";
import { coordinatorOf, type Desk, live, openDesk } from "../../tests/desk.ts";
import { now } from "../clock.ts";
import { readNotices, sendMessage } from "../course/messages.ts";
import type { CourseAccess } from "../http/guard.ts";
import { course } from "../store/courses.ts";
import { closeDatabase } from "../store/database.ts";
import { recordOpening } from "../store/progress.ts";
import { homeStamp, homeUntil, keepPage, keptPage } from "./kept-pages.ts";
import { coursePage, ownView } from "./shown-course.ts";

let desk: Desk;
let courseId = "";
let personId = "";
const account = { id: v7(), displayName: "Somebody", locale: plainLocale };
beforeAll(async () => {
  desk = await openDesk();
  ({ courseId } = desk);
  desk.first = await coordinatorOf(desk);
  personId = Object.values(desk.plan.people).find(({ username }) => username === "student.day")?.id ?? "";
});
afterAll(closeDatabase);

async function seatNow(): Promise<CourseAccess> {
  const stored = await course(courseId);
  const membership = stored && membershipOf(stored.plan, desk.plan.people[personId]?.sourcedId ?? "", now());
  if (!stored || !membership) throw new Error("not in the course");
  return { ...stored, whole: stored.plan, courseId, membership, scope: null };
}
const stampNow = async () => homeStamp(await seatNow(), account);
async function kept(until = Number.POSITIVE_INFINITY) {
  const stamp = await stampNow();
  await keepPage(stamp, until, new Response("made", { headers: { "content-type": "text/html", "x-own": "1" } }));
  return stamp;
}

test("it is given again with its headers, to whom it was made for, until the clock may change it", async () => {
  await kept();
  const again = keptPage(await stampNow());
  expect([await again?.text(), again?.headers.get("x-own")]).toEqual(["made", "1"]);
  expect(keptPage(await homeStamp(await seatNow(), { ...account, id: v7() }))).toBeNull();
  const american = { locale: "en-US", hours: "usual" } as const;
  expect(keptPage(await homeStamp(await seatNow(), { ...account, locale: american }))).toBeNull();
  await kept(now() + 60_000);
  expect(keptPage(await stampNow())).not.toBeNull();
  await kept(now() - 1);
  expect(keptPage(await stampNow())).toBeNull();
});

test("a notice, a notice that was read, something done in the course, and a publication each make it anew", async () => {
  const message = {
    ...blankMessage,
    id: v7(),
    subject: "S",
    body: "B",
    to: [{ kind: "person" as const, id: personId }],
  };
  const [item] = Object.values(desk.plan.items);
  const changes = [
    () => sendMessage(desk.plan, desk.first, message, now()),
    () => readNotices(courseId, personId, now()),
    () => recordOpening(courseId, item?.id ?? "", personId, now()),
    () => live(desk, { kind: "item.change", itemId: item?.id, fields: { title: "Another title" } }),
  ];
  for (const change of changes) {
    await kept();
    expect(keptPage(await stampNow())).not.toBeNull();
    await change();
    expect(keptPage(await stampNow())).toBeNull();
  }
});

test("a page that failed is not kept, and one is kept no longer than until the next thing opens or falls due", async () => {
  const stamp = await stampNow();
  await keepPage(stamp, Number.POSITIVE_INFINITY, new Response("no", { status: 404 }));
  expect(await keptPage(stamp)?.text()).not.toBe("no");
  const view = await ownView(await seatNow());
  if (!view) throw new Error("no view");
  const shown = coursePage(view);
  const until = homeUntil(view, shown);
  const dues = shown.due.flatMap(({ dates }) => dates.flatMap(({ field, at }) => (field === "due" && at ? [at] : [])));
  expect(until).toBeGreaterThan(view.page.reach.t);
  expect(until).toBeLessThanOrEqual(Math.min(...dues));
});
