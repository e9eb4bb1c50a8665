import type { APIRoute } from "astro";
import { noteEvent } from "../../server/accounts/security-events.ts";
import { attachment } from "../../server/http/attachment.ts";
import { notFound } from "../../server/http/guard.ts";
import { archiveOf, personalData } from "../../server/institution/personal-data.ts";

/** All that the application holds of whoever asks, as one archive. */
export const GET: APIRoute = async ({ locals: { account } }) => {
  const data = await personalData(account.id);
  if (!data) return notFound(false);
  await noteEvent({ kind: "exported", accountId: account.id, what: "own data" });
  const headers = { "content-type": "application/zip", "content-disposition": attachment("your data.zip") };
  return new Response(archiveOf(data), { headers });
};
