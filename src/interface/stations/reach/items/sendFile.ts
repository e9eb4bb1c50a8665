import type { Item } from "../../../../core/plan/types.ts";

/** Stores bytes under a name; gives what an item of kind file holds, or the sentence that says why not. */
export async function sendFile(
  address: string,
  name: string,
  bytes: Blob,
): Promise<NonNullable<Item["file"]> | { trouble: string }> {
  const form = new FormData();
  form.set("file", bytes, name);
  const answer = await fetch(`${address}/files`, { method: "POST", body: form }).catch(() => null);
  if (!answer) return { trouble: `The server does not answer, so ${name} was not stored. Try again.` };
  const body = (await answer.json().catch(() => ({}))) as { detail?: string };
  if (answer.ok) return body as NonNullable<Item["file"]>;
  return { trouble: body.detail ?? `${name} was not stored: the server answered ${answer.status}.` };
}
