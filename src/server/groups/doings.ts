/** What members, and staff with them, do on a group's page. What they may is decided by the page that they were shown. */
import { v7 } from "uuid";
import { z } from "zod";
import { fileTrouble, plainName } from "../../core/formats/stored-files.ts";
import { Message } from "../../core/messages/message.ts";
import { renameByMember } from "../../core/placement/groups/page.ts";
import { studentsOf } from "../../core/placement/membership.ts";
import { now } from "../clock.ts";
import type { CourseSeat } from "../guard.ts";
import { liveStep } from "../live-step.ts";
import { type From, sendMessage } from "../messages.ts";
import { textOf } from "../safe-html.ts";
import { isBlank, keepFile, sentFile, type Taken, takePost, tooLong } from "../student-work.ts";
import { addEntry, changeEntry, endEntry, writeOnly } from "./entries.ts";
import type { GroupPageShown, May } from "./page.ts";

const mostText = 100_000;
const mostTitle = 200;
const mostLetter = 18_000;

/** By what a form asks for, what one must be allowed. */
const needs: Record<string, May> = {
  rename: "rename",
  notice: "notices",
  page: "pages",
  begin: "threads",
  write: "write",
  link: "meeting link",
  note: "note",
  file: "file",
};
const Version = z.coerce.number().int().min(0);

export interface Doer {
  seat: CourseSeat;
  account: { id: string; displayName: string };
}

/** Does what a form asks for. A failure's `thread` says which form it belongs to. */
export async function takeDoing({ seat, account }: Doer, shown: GroupPageShown, form: FormData): Promise<Taken> {
  const { courseId, membership } = seat;
  const { personId } = membership;
  const groupId = shown.group.id;
  const at = now();
  const said = (name: string) => String(form.get(name) ?? "");
  const what = said("do");
  if (form.has("post")) return takePosted({ seat, account }, shown, form);
  if (what === "take away")
    return (await endEntry(courseId, groupId, said("entry"), personId, at)) ? "taken" : "not theirs";
  const needed = needs[what];
  if (!needed) return { failure: "Nothing was asked for.", text: "", thread: null };
  if (!shown.may.has(needed)) return "not theirs";
  const [title, body] = [said("title").trim(), said("body")];
  const refuse = (failure: string): Taken => ({ failure, text: body, thread: what });
  if (title.length > mostTitle) return refuse(tooLong("title", title, mostTitle));
  if (body.length > mostText) return refuse(tooLong("text", body, mostText));
  const told = (answer: "changed" | "stale" | "gone"): Taken =>
    answer === "changed"
      ? "taken"
      : answer === "gone"
        ? "not theirs"
        : refuse(
            "Somebody changed it while you wrote. What they wrote stands on the page; what you wrote is still here. Put the two together and keep it again.",
          );

  if (what === "rename") {
    const step = await liveStep(courseId, account.id, "members", (plan, moment) => {
      const next = renameByMember(plan, personId, groupId, title, moment);
      return "refused" in next
        ? next
        : { plan: next, says: `${account.displayName} renamed ${shown.group.name} to ${title}` };
    });
    return "refused" in step ? refuse(step.sentence) : "taken";
  }
  if (what === "link") {
    const address = title;
    if (address !== "" && !/^https?:\/\/\S+\.\S+$/.test(address))
      return refuse(`"${address.slice(0, 80)}" is no address of a page. It begins with https://.`);
    const version = Version.catch(0).parse(said("version"));
    return told(
      await writeOnly(courseId, groupId, "meeting link", version, { title: address, body: "" }, personId, at),
    );
  }
  if (what === "note") {
    const version = Version.catch(0).parse(said("version"));
    return told(await writeOnly(courseId, groupId, "note", version, { title: "", body }, personId, at));
  }
  if (what === "file") {
    const file = sentFile(form);
    if (!file) return refuse("Choose a file first.");
    const trouble = fileTrouble(plainName(file.name), file.size);
    if (trouble) return refuse(`${trouble} Nothing was shared.`);
    const fileId = await keepFile(seat, account.id, file);
    await addEntry(
      courseId,
      groupId,
      { kind: "file", title: file.name.slice(0, mostTitle), body: "", fileId },
      personId,
      at,
    );
    return "taken";
  }
  if (title === "") return refuse(`It needs a ${what === "write" ? "subject" : "title"}. Nothing was lost.`);
  if (what !== "begin" && isBlank(body)) return refuse("There is nothing in it yet. Write something first.");
  if (what === "write") return takeLetter({ seat, account }, shown, form, "member");
  const entry = said("entry");
  if (entry) {
    const own = [...(what === "page" ? shown.pages : []), ...shown.notices.filter(({ mine }) => mine)];
    if (!own.some(({ id }) => id === entry)) return "not theirs";
    const version = Version.catch(0).parse(said("version"));
    return told(await changeEntry(courseId, groupId, entry, version, { title, body }, personId, at));
  }
  const kind = what === "begin" ? "thread" : what === "notice" ? "notice" : "page";
  await addEntry(courseId, groupId, { kind, title, body }, personId, at);
  if (kind === "notice") await takeLetter({ seat, account }, shown, form, "member, in the course alone");
  return "taken";
}

/** A post in the group's own thread, or in one that was begun there. */
function takePosted({ seat, account }: Doer, shown: GroupPageShown, form: FormData): Promise<Taken> | Taken {
  const opened = shown.begun.find(({ id }) => id === String(form.get("place") ?? ""));
  const posts = opened?.posts ?? shown.thread;
  if (!posts || (!opened && !shown.may.has("post"))) return "not theirs";
  const threads = [{ groupId: shown.group.id, label: null, own: true, posts }];
  const item = { id: opened?.id ?? shown.group.id, post: { taken: true, why: "" } };
  return takePost(seat, account.id, { item, threads }, form);
}

/** A message to the others of the group, or to those of them that were chosen; each reads who wrote it. */
async function takeLetter({ seat, account }: Doer, shown: GroupPageShown, form: FormData, from: From): Promise<Taken> {
  const { whole, membership } = seat;
  const said = (name: string) => String(form.get(name) ?? "");
  const body = said("body");
  const text = textOf(body);
  const [family, given] = account.displayName.split(", ");
  const sender = given ? `${given} ${family}` : account.displayName;
  const others = studentsOf(whole, shown.group.id, now());
  const chosen = form
    .getAll("to")
    .map(String)
    .filter((id) => others.includes(id));
  const to = (from === "member" && chosen.length > 0 ? chosen : others).filter((id) => id !== membership.personId);
  if (text.length > mostLetter && from === "member")
    return { failure: tooLong("text", text, mostLetter), text: body, thread: "write" };
  if (to.length === 0)
    return from === "member" ? { failure: "Nobody else is in the group yet.", text: body, thread: "write" } : "taken";
  const message = Message.safeParse({
    id: z
      .uuid()
      .catch(() => v7())
      .parse(said("message")),
    subject: `${shown.group.name}: ${said("title").trim()}`.slice(0, 200),
    body: `${sender} wrote to ${shown.group.name}:\n\n${text.slice(0, mostLetter)}`,
    to: to.map((id) => ({ kind: "person", id })),
    unplacedIn: [],
    withStaff: false,
  });
  if (!message.success) return "not theirs";
  await sendMessage(whole, account.id, message.data, now(), from);
  return "taken";
}

/** What was refused, with what else the form held. */
export const refusedBy = (answer: Exclude<Taken, string>, form: FormData) => ({
  ...answer,
  entry: String(form.get("place") ?? form.get("entry") ?? ""),
  title: String(form.get("title") ?? "").slice(0, 500),
});
