import type { APIRoute } from "astro";
import { noteEvent } from "../../../server/accounts/security-events.ts";
import { attachment } from "../../../server/http/attachment.ts";
import { notFound } from "../../../server/http/guard.ts";
import { archiveOf, personalData } from "../../../server/institution/personal-data.ts";

/** The same archive that somebody can save of themselves, for whoever was asked for it on paper. */
export const GET: APIRoute = async ({ locals: { account }, params }) => {
  const data = await personalData(params.account ?? "");
  if (!data) return notFound(false);
  await noteEvent({ kind: "account changed", accountId: account.id, what: `data of ${params.account} saved` });
  const name = String(data.account.account?.[0]?.username ?? "somebody");
  const headers = { "content-type": "application/zip", "content-disposition": attachment(`data of ${name}.zip`) };
  return new Response(archiveOf(data), { headers });
};
