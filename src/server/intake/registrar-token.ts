/**
 * Who asks the registrar: a fixed token, or one that OAuth 2 client credentials bring (RFC 6749, 4.4), as the OneRoster
 * standard wants it. A token is kept until shortly before it ends.
 */
import { allowInsecureRequests, ClientSecretBasic, Configuration, clientCredentialsGrant } from "openid-client";
import { config } from "../config.ts";
import { isLoopback } from "../http/address.ts";

/** Why a roster could not be drawn, for the coordinator. */
export class FeedTrouble extends Error {
  /** What is wrong, with what to do about it where no roster is taken in. */
  saying(next: string): string {
    return `${this.message.split(" Nothing was taken in")[0]} ${next}`;
  }
}

const scopes = {
  "1.1": "https://purl.imsglobal.org/spec/or/v1p1/scope/roster-core.readonly",
  "1.2":
    "https://purl.imsglobal.org/spec/or/v1p2/scope/roster-core.readonly https://purl.imsglobal.org/spec/or/v1p2/scope/roster.readonly",
};
/** Before a token ends, in milliseconds. */
const marginMs = 60_000;

let kept: { token: string; until: number; of: string } | null = null;

/** Drops a fetched token; gives whether there was one, so that it is worth asking for another. */
export function forgetToken(): boolean {
  const had = kept !== null;
  kept = null;
  return had;
}

export async function registrarToken(): Promise<string> {
  const settings = config();
  const { AMBER_REGISTRAR_CLIENT_ID: id, AMBER_REGISTRAR_CLIENT_SECRET: secret, AMBER_REGISTRAR_URL: url } = settings;
  if (!id || !secret || !url) return settings.AMBER_REGISTRAR_TOKEN;
  const address = settings.AMBER_REGISTRAR_TOKEN_URL ?? `${url.replace(/\/+$/, "")}/token`;
  const of = `${id}@${address}`;
  if (kept && kept.of === of && kept.until > Date.now()) return kept.token;
  const client = new Configuration(
    { issuer: new URL(address).origin, token_endpoint: address },
    id,
    undefined,
    ClientSecretBasic(secret),
  );
  client.timeout = settings.AMBER_REGISTRAR_PATIENCE / 1000;
  // A service of this machine needs no encryption; any other is asked by https alone.
  if (isLoopback(new URL(address).host)) allowInsecureRequests(client);
  try {
    const answer = await clientCredentialsGrant(client, { scope: scopes[settings.AMBER_REGISTRAR_VERSION] });
    const lasts = (answer.expires_in ?? 3600) * 1000;
    kept = { token: answer.access_token, until: Date.now() + Math.max(0, lasts - marginMs), of };
    return answer.access_token;
  } catch (error) {
    throw new FeedTrouble(
      `The registrar's service gave no token (${(error as Error).message}). Nothing was taken in; ask whoever runs Amber Weave to look at AMBER_REGISTRAR_CLIENT_ID and its secret.`,
    );
  }
}
