/** What a student writes to their instructors, where the course allows it. */
import { v7 } from "uuid";
import { z } from "zod";
import { blankMessage } from "../../core/messages/message.ts";
import { staffToWriteTo } from "../../core/messages/to-staff.ts";
import type { Person } from "../../core/plan/types.ts";
import { now } from "../clock.ts";
import { sendMessage } from "../course/messages.ts";
import type { CourseAccess } from "../http/guard.ts";
import { type Taken, tooLong } from "./student-work.ts";

const mostSubject = 200;
const mostText = 20_000;

export const staffOf = ({ whole, membership }: CourseAccess): Person[] =>
  staffToWriteTo(whole, membership.personId, now());

/** Sends what a form holds to those of their staff who were chosen; to all of them where nobody was. */
export async function writeToStaff(access: CourseAccess, accountId: string, form: FormData): Promise<Taken> {
  const staff = staffOf(access);
  if (staff.length === 0) return "not theirs";
  const said = (name: string) => String(form.get(name) ?? "").trim();
  const [subject, text] = [said("subject"), said("text")];
  const refuse = (failure: string): Taken => ({ failure, text, thread: null });
  if (subject === "") return refuse("It needs a subject. Nothing was lost.");
  if (text === "") return refuse("There is nothing in it yet. Write something first.");
  if (subject.length > mostSubject) return refuse(tooLong("subject", subject, mostSubject));
  if (text.length > mostText) return refuse(tooLong("text", text, mostText));
  const chosen = form.getAll("to").map(String);
  const named = staff.filter(({ id }) => chosen.includes(id));
  const id = z
    .uuid()
    .catch(() => v7())
    .parse(form.get("send"));
  const message = {
    ...blankMessage,
    id,
    subject,
    body: text,
    to: (named.length > 0 ? named : staff).map((one) => ({ kind: "person" as const, id: one.id })),
  };
  await sendMessage(access.whole, accountId, message, now(), "to staff");
  return { stored: id };
}
