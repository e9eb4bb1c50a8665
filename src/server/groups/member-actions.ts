/** What members, and staff with them, do on a group's page. What they may is decided by the page that they were shown. */

import { v7 } from "uuid";
import { z } from "zod";
import { blankMessage, type Message } from "../../core/messages/message.ts";
import { renameByMember } from "../../core/placement/groups/page.ts";
import { studentsOf } from "../../core/placement/membership.ts";
import type { MemberPermission } from "../../core/plan/types.ts";
import { cut } from "../../core/text/shorten.ts";
import { givenFirst } from "../accounts/accounts.ts";
import { now } from "../clock.ts";
import { liveStep } from "../course/live-step.ts";
import { type From, sendMessage } from "../course/messages.ts";
import type { SentForm } from "../http/body.ts";
import type { CourseAccess } from "../http/guard.ts";
import { textOf } from "../http/safe-html.ts";
import { isBlank, keepFile, type Refused, type Taken, takePost, tooLong } from "../student/student-work.ts";
import { addEntry, changeEntry, type EntryText, endEntry, writeOnly } from "./entries.ts";
import type { GroupPageShown } from "./page.ts";

const mostText = 100_000;
const mostTitle = 200;
const mostLetter = 18_000;

const Version = z.coerce.number().int().min(0).catch(0);

export interface Doer {
  access: CourseAccess;
  account: { id: string; displayName: string };
}
/** What somebody asks for by a form of a page. */
interface Asked extends Doer, SentForm {
  shown: GroupPageShown;
  title: string;
  /** HTML of the form's text. */
  body: string;
  /** The entry that is changed; empty where something is added. */
  entry: string;
  /** At which version it was seen; 0 where nothing was there. */
  version: number;
  refuse(failure: string): Taken;
}

const stale =
  "Somebody changed it while you wrote. What they wrote stands on the page; what you wrote is still here. Put the two together and keep it again.";
const told = (answer: "changed" | "stale" | "gone", { refuse }: Asked): Taken =>
  answer === "changed" ? "taken" : answer === "gone" ? "not theirs" : refuse(stale);

async function rename({ access, account, shown, title, refuse }: Asked): Promise<Taken> {
  const step = await liveStep(access.courseId, account.id, "members", (plan, at) => {
    const next = renameByMember(plan, access.membership.personId, shown.group.id, title, at);
    return "refused" in next
      ? next
      : { plan: next, says: `${account.displayName} renamed ${shown.group.name} to ${title}` };
  });
  return "refused" in step ? refuse(step.sentence) : "taken";
}

async function keepOnly(asked: Asked, kind: "note" | "meeting link", text: EntryText): Promise<Taken> {
  const { access, shown, version } = asked;
  const { courseId, membership } = access;
  return told(await writeOnly(courseId, shown.group.id, kind, version, text, membership.personId, now()), asked);
}

async function keepLink(asked: Asked): Promise<Taken> {
  const { title: address, refuse } = asked;
  if (address !== "" && !/^https?:\/\/\S+\.\S+$/.test(address))
    return refuse(`"${cut(address, 80)}" is no address of a page. It begins with https://.`);
  return keepOnly(asked, "meeting link", { title: address, body: "" });
}

async function shareFile({ access, account, shown, file, refuse }: Asked): Promise<Taken> {
  if (!file) return refuse("Choose a file first.");
  const kept = await keepFile(access, account.id, file);
  if ("trouble" in kept) return refuse(`${kept.trouble} Nothing was shared.`);
  const entry = { kind: "file" as const, title: cut(file.name, mostTitle), body: "", ...kept };
  await addEntry(access.courseId, shown.group.id, entry, access.membership.personId, now());
  return "taken";
}

/** Adds a notice, page or thread, or changes one: a notice whoever posted it, a page every member. */
async function keepEntry(asked: Asked, kind: "notice" | "page" | "thread"): Promise<Taken> {
  const { access, shown, title, body, entry, version, refuse } = asked;
  const { courseId, membership } = access;
  if (title === "") return refuse("It needs a title. Nothing was lost.");
  if (kind !== "thread" && isBlank(body)) return refuse(nothingIn);
  if (entry) {
    const changeable = kind === "page" ? shown.pages : shown.notices.filter(({ mine }) => mine);
    if (!changeable.some(({ id }) => id === entry)) return "not theirs";
    const text = { title, body };
    return told(await changeEntry(courseId, shown.group.id, entry, version, text, membership.personId, now()), asked);
  }
  await addEntry(courseId, shown.group.id, { kind, title, body }, membership.personId, now());
  return "taken";
}

async function postNotice(asked: Asked): Promise<Taken> {
  const answer = await keepEntry(asked, "notice");
  return answer === "taken" && !asked.entry ? takeLetter(asked, "member, in the course alone") : answer;
}

async function writeToOthers(asked: Asked): Promise<Taken> {
  const { title, body, refuse } = asked;
  if (title === "") return refuse("It needs a subject. Nothing was lost.");
  return isBlank(body) ? refuse(nothingIn) : takeLetter(asked, "member");
}
const nothingIn = "There is nothing in it yet. Write something first.";

/** By what a form asks for: what one must be allowed, and what is done. */
const memberActions: Record<string, { needs: MemberPermission; take(asked: Asked): Promise<Taken> }> = {
  rename: { needs: "rename", take: rename },
  notice: { needs: "notices", take: postNotice },
  page: { needs: "pages", take: (asked) => keepEntry(asked, "page") },
  begin: { needs: "threads", take: (asked) => keepEntry(asked, "thread") },
  write: { needs: "write", take: writeToOthers },
  link: { needs: "meeting link", take: keepLink },
  note: { needs: "note", take: (asked) => keepOnly(asked, "note", { title: "", body: asked.body }) },
  file: { needs: "file", take: shareFile },
};

/** Does what a form asks for. A failure's `thread` says which form it belongs to. */
export async function takeMemberAction(
  { access, account }: Doer,
  shown: GroupPageShown,
  sent: SentForm,
): Promise<Taken> {
  const { form, file } = sent;
  const said = (name: string) => String(form.get(name) ?? "");
  const what = said("do");
  if (form.has("post")) return takePosted({ access, account }, shown, sent);
  // Members who only read take nothing away either.
  if (shown.may.size === 0) return "not theirs";
  if (what === "take away") {
    const ended = await endEntry(access.courseId, shown.group.id, said("entry"), access.membership.personId, now());
    return ended ? "taken" : "not theirs";
  }
  const action = Object.hasOwn(memberActions, what) ? memberActions[what] : undefined;
  if (!action) return { failure: "Nothing was asked for.", text: "", thread: null };
  if (!shown.may.has(action.needs)) return "not theirs";
  const [title, body] = [said("title").trim(), said("body")];
  const refuse = (failure: string): Taken => ({ failure, text: body, thread: what });
  if (title.length > mostTitle) return refuse(tooLong("title", title, mostTitle));
  if (body.length > mostText) return refuse(tooLong("text", body, mostText));
  const version = Version.parse(said("version"));
  return action.take({ access, account, shown, form, file, title, body, entry: said("entry"), version, refuse });
}

/** A post in the group's own thread, or in one that was begun there. */
function takePosted({ access, account }: Doer, shown: GroupPageShown, sent: SentForm): Promise<Taken> | Taken {
  const opened = shown.begun.find(({ id }) => id === String(sent.form.get("place") ?? ""));
  const posts = opened?.posts ?? shown.thread;
  // Whoever may begin threads may answer in those that were begun.
  const mayWrite = shown.may.has("post") || (opened !== undefined && shown.may.has("threads"));
  if (!posts || !mayWrite) return "not theirs";
  const threads = [{ groupId: shown.group.id, label: null, own: true, posts }];
  const item = { id: opened?.id ?? shown.group.id, post: { taken: true, why: "" } };
  return takePost(access, account.id, { item, threads }, sent);
}

/** A message to the others of the group, or to those of them that were chosen; each reads who wrote it. */
async function takeLetter({ access, account, shown, form, title, body, refuse }: Asked, from: From): Promise<Taken> {
  const { whole, membership } = access;
  const text = textOf(body);
  const isLetter = from === "member";
  if (isLetter && text.length > mostLetter) return refuse(tooLong("text", text, mostLetter));
  const others = studentsOf(whole, shown.group.id, now()).filter((id) => id !== membership.personId);
  const chosen = form.getAll("to").map(String);
  const named = others.filter((id) => chosen.includes(id));
  const to = isLetter && named.length > 0 ? named : others;
  if (to.length === 0) return isLetter ? refuse("Nobody else is in the group yet.") : "taken";
  const sender = givenFirst(account.displayName);
  const message: Message = {
    ...blankMessage,
    id: z
      .uuid()
      .catch(() => v7())
      // Another text has another id: it is another message.
      .parse(form.get("send") ?? form.get("message")),
    subject: cut(`${shown.group.name}: ${title}`, 200),
    body: `${sender} wrote to ${shown.group.name}:\n\n${cut(text, mostLetter)}`,
    to: to.map((id) => ({ kind: "person", id })),
  };
  await sendMessage(whole, account.id, message, now(), from);
  return { stored: message.id };
}

/** What was refused, with what else the form held. */
export const refusedBy = (answer: Refused, form: FormData) => ({
  ...answer,
  entry: String(form.get("place") ?? form.get("entry") ?? ""),
  title: cut(String(form.get("title") ?? ""), 500),
});
