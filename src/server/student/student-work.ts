/** What a student does on an item's page: hands in, writes in a thread, marks as read. What they see decides. */

import { z } from "zod";
import { studentItem, studentPage } from "../../core/reach/student-page.ts";
import { sayNumber } from "../../core/text/locale.ts";
import { cut } from "../../core/text/shorten.ts";
import { now } from "../clock.ts";
import type { SentForm } from "../http/body.ts";
import type { CourseAccess } from "../http/guard.ts";
import { storeArrived } from "../store/files.ts";
import { recordRead, studentProgress } from "../store/progress.ts";
import type { ArrivedFile } from "../store/uploads.ts";
import type { ItemPage } from "./item-page.ts";
import { deletePost, editPost, putPostBack, recordHandIn, recordPost, type WhyNotNow } from "./posts-and-hand-ins.ts";
import { sendReceipt } from "./receipts.ts";

/**
 * Why it was not taken, with what was written kept; or taken, with the id of the post or hand-in where it is one; or a
 * thread that is not theirs to write in.
 */
export type Taken =
  | "taken"
  | { stored: string }
  | "not theirs"
  | { failure: string; text: string; link?: string; thread: string | null };

export type Refused = Extract<Taken, { failure: string }>;
export const isRefused = (answer: Taken): answer is Refused => typeof answer === "object" && "failure" in answer;

/** Where a page goes on after something was taken: the same page, which says what was stored; null where it was not. */
export function afterTaken(answer: Taken, path: string): string | null {
  if (answer === "taken") return path;
  if (answer === "not theirs" || isRefused(answer)) return null;
  return `${path}${path.includes("?") ? "&" : "?"}sent=${answer.stored}#sent`;
}

/** The id that a form gave to what it sends; null where it gave none. */
const sendIdOf = (form: FormData): string | null => z.uuid().nullable().catch(null).parse(form.get("send"));

const mostHandIn = 100_000;
const mostPost = 20_000;
export const tooLong = (what: string, text: string, most: number) =>
  `The ${what} has ${sayNumber(text.length)} characters; ${sayNumber(most)} is the most. Shorten it and send it again.`;
/** Whether an editor's text holds anything to read. */
export const isBlank = (html: string) => html.replace(/<[^>]*>|&nbsp;|\s/g, "") === "";

/** Stores the file that came with a form, where one did, or says why not. */
export async function keepFile(
  access: CourseAccess,
  accountId: string,
  file: ArrivedFile | null,
): Promise<{ fileId: string | null } | { trouble: string }> {
  if (!file) return { fileId: null };
  const stored = await storeArrived(access.courseId, accountId, file, now());
  return "trouble" in stored ? stored : { fileId: stored.id };
}

/** Takes a post, an answer or an edit in one of the threads that are shown. */
export async function takePost(
  access: CourseAccess,
  accountId: string,
  { item, threads }: Pick<ItemPage, "threads"> & { item: Pick<ItemPage["item"], "id" | "post"> },
  { form, file }: SentForm,
): Promise<Taken> {
  const { courseId, membership } = access;
  const said = (name: string) => String(form.get(name) ?? "");
  const [text, thread, parent, edited] = [said("post"), said("thread"), said("parent"), said("edit")];
  const where = threads?.find((one) => (one.groupId ?? "") === thread);
  // A thread they may only read, or that is none of theirs, is not there to write in.
  if (!where?.own || !item.post) return "not theirs";
  if (parent && !where.posts.some(({ id }) => id === parent)) return "not theirs";
  const isMine = (postId: string) => where.posts.some(({ id, mine }) => id === postId && mine);
  if (edited && !isMine(edited)) return "not theirs";
  const isStored = (postId: string) => where.posts.some(({ id }) => id === postId);
  for (const [name, change] of [
    ["delete", deletePost],
    ["put back", putPostBack],
  ] as const) {
    const postId = said(name);
    if (!postId) continue;
    const changed = isStored(postId) && (await change(courseId, postId, membership.personId, now()));
    return changed ? { stored: postId } : "not theirs";
  }
  const refuse = (failure: string) => ({ failure, text, thread });
  if (!item.post.taken) return refuse(item.post.why);
  if (isBlank(text) && !file) return refuse("There is nothing to post. Write something first.");
  if (text.length > mostPost) return refuse(tooLong("post", text, mostPost));
  if (edited)
    return (await editPost(courseId, edited, membership.personId, text, now())) ? { stored: edited } : "not theirs";
  const kept = await keepFile(access, accountId, file);
  if ("trouble" in kept) return refuse(`${kept.trouble} Nothing was posted.`);
  const post = { placeId: item.id, groupId: where.groupId, personId: membership.personId, body: text, ...kept };
  const sending = { sendId: sendIdOf(form), at: now() };
  return { stored: await recordPost(courseId, { ...post, parentId: parent || null }, sending) };
}

/** Why an item takes no hand-in of somebody, asked where nobody else can hand in meanwhile. */
const whyNotNow =
  ({ plan, courseId, membership }: CourseAccess, itemId: string): WhyNotNow =>
  async (connection) => {
    const progress = await studentProgress(courseId, membership.personId, plan, connection);
    const page = studentPage(plan, progress, membership.personId, now());
    const handIn = page && studentItem(page, itemId)?.handIn;
    return handIn?.taken ? null : handIn?.why || "This item takes no hand-in.";
  };

export async function takeWork(
  access: CourseAccess,
  accountId: string,
  page: ItemPage,
  sent: SentForm,
): Promise<Taken> {
  const { form, file } = sent;
  const { item } = page;
  const { personId } = access.membership;
  const said = (name: string) => String(form.get(name) ?? "");
  if (form.has("read")) {
    if (item.read === null) return "not theirs";
    await recordRead(access.courseId, item.id, personId, now());
    return "taken";
  }
  if (form.has("post")) return takePost(access, accountId, page, sent);
  const [text, link] = [said("text"), said("link").trim()];
  const refuse = (failure: string) => ({ failure, text, link, thread: null });
  if (!item.handIn?.taken) return refuse(item.handIn?.why || "This item takes no hand-in.");
  if (text.trim() === "" && link === "" && !file)
    return refuse("There is nothing to hand in. Write a text, give a link or choose a file first.");
  if (text.length > mostHandIn) return refuse(tooLong("text", text, mostHandIn));
  if (link !== "" && !/^https?:\/\/\S+\.\S+$/.test(link))
    return refuse(`"${cut(link, 80)}" is no address of a page. It begins with https://. Nothing was handed in.`);
  if (link.length > 2000) return refuse(tooLong("link", link, 2000));
  const kept = await keepFile(access, accountId, file);
  if ("trouble" in kept) return refuse(`${kept.trouble} Nothing was handed in.`);
  const handIn = { itemId: item.id, personId, text, link: link || null, ...kept };
  const sending = { sendId: sendIdOf(form), at: now() };
  const stored = await recordHandIn(access.courseId, handIn, sending, whyNotNow(access, item.id));
  if ("failure" in stored) return refuse(stored.failure);
  const received = { id: stored.id, itemId: item.id, at: sending.at, text, link: handIn.link, file };
  await sendReceipt(access, accountId, received);
  return { stored: stored.id };
}
