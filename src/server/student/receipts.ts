/** A receipt of a hand-in, for whoever wants each in writing: when it arrived, and what. */

import { v5 } from "uuid";
import { sayInstant } from "../../core/clock/local-time.ts";
import { sayBytes } from "../../core/formats/stored-files.ts";
import { blankMessage } from "../../core/messages/message.ts";
import { cut } from "../../core/text/shorten.ts";
import { settingsOf } from "../accounts/own.ts";
import { sendMessage } from "../course/messages.ts";
import type { CourseAccess } from "../http/guard.ts";
import { log } from "../log.ts";
import type { ArrivedFile } from "../store/uploads.ts";

export interface Received {
  /** Of the hand-in: received twice, it is confirmed once. */
  id: string;
  itemId: string;
  at: number;
  text: string;
  link: string | null;
  file: Pick<ArrivedFile, "name" | "size"> | null;
}

const namespace = "5c8e5f0e-61f4-4f7c-9a3e-0c6f3d0a8f11";

/** Sends a receipt to whoever wants them. What was handed in is stored by then: a receipt that fails is logged, and no more. */
export async function sendReceipt(access: CourseAccess, accountId: string, received: Received): Promise<void> {
  try {
    if ((await settingsOf(accountId)).receipts) await writeReceipt(access, accountId, received);
  } catch (error) {
    log.error({ error: String(error), handIn: received.id }, "receipt");
  }
}

async function writeReceipt(access: CourseAccess, accountId: string, received: Received): Promise<void> {
  const { whole, membership } = access;
  const { id, itemId, at, text, link, file } = received;
  const title = whole.items[itemId]?.title ?? "";
  const parts = [
    `It arrived ${sayInstant(at, whole.course.timeZone)}.`,
    file && `File: ${file.name}, ${sayBytes(file.size)}`,
    link && `Link: ${link}`,
    text.trim() && `Text:\n\n${text.trim()}`,
  ];
  const message = {
    ...blankMessage,
    id: v5(id, namespace),
    subject: cut(`Handed in: ${title}`, 200),
    body: cut(parts.filter(Boolean).join("\n\n"), 20_000),
    to: [{ kind: "person" as const, id: membership.personId }],
    from: "course" as const,
    itemId,
  };
  await sendMessage(whole, accountId, message, at, "receipt");
}
