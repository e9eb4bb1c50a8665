/** What a student does on an item's page: hands in, writes in a thread, marks as read. What they see decides. */
import { now } from "./clock.ts";
import type { CourseSeat } from "./guard.ts";
import type { ItemPage } from "./item-page.ts";
import { recordHandIn, recordPost, recordRead } from "./progress.ts";

/** Why it was not taken, with what was written kept; or taken; or a thread that is not theirs to write in. */
export type Taken = "taken" | "not theirs" | { failure: string; text: string; thread: string | null };

const mostHandIn = 100_000;
const mostPost = 20_000;
const tooLong = (what: string, text: string, most: number) =>
  `The ${what} has ${text.length.toLocaleString("en-GB")} characters; ${most.toLocaleString("en-GB")} is the most. Shorten it and send it again.`;

export async function takeWork(seat: CourseSeat, page: ItemPage, form: FormData): Promise<Taken> {
  const { item } = page;
  const { personId } = seat.membership;
  const said = (name: string) => String(form.get(name) ?? "");
  if (form.has("read")) {
    if (item.read === null) return "not theirs";
    await recordRead(seat.courseId, item.id, personId, now());
    return "taken";
  }
  if (form.has("post")) {
    const [text, thread] = [said("post"), said("thread")];
    const where = page.threads?.find((one) => (one.groupId ?? "") === thread);
    // A thread they may only read, or that is none of theirs, is not there to write in.
    if (!where?.own || !item.post) return "not theirs";
    const refuse = (failure: string) => ({ failure, text, thread });
    if (!item.post.taken) return refuse(item.post.why);
    if (text.trim() === "") return refuse("There is nothing to post. Write something first.");
    if (text.length > mostPost) return refuse(tooLong("post", text, mostPost));
    await recordPost(seat.courseId, item.id, where.groupId, personId, text, now());
    return "taken";
  }
  const text = said("text");
  const refuse = (failure: string) => ({ failure, text, thread: null });
  if (!item.handIn?.taken) return refuse(item.handIn?.why || "This item takes no hand-in.");
  if (text.trim() === "") return refuse("There is no text to hand in. Write something first.");
  if (text.length > mostHandIn) return refuse(tooLong("text", text, mostHandIn));
  await recordHandIn(seat.courseId, item.id, personId, text, now());
  return "taken";
}
