/**
 * Signing in at an identity provider by OpenID Connect: the code flow with PKCE, state and nonce. Who somebody is here is said
 * by one claim, the registrar's id.
 */
import { randomBytes } from "node:crypto";
import {
  allowInsecureRequests,
  authorizationCodeGrant,
  buildAuthorizationUrl,
  buildEndSessionUrl,
  type Configuration,
  calculatePKCECodeChallenge,
  discovery,
  type IDToken,
  randomNonce,
  randomPKCECodeVerifier,
  randomState,
} from "openid-client";
import { loginOf } from "../../core/text/logins.ts";
import { cut } from "../../core/text/shorten.ts";
import { config, type IdentityProvider } from "../config.ts";
import { isLoopback } from "../http/address.ts";
import { isStaff } from "../store/courses.ts";
import { rows, run } from "../store/database.ts";
import { createAccount, openSession } from "./accounts.ts";
import { digest } from "./digest.ts";
import { noteEvent } from "./security-events.ts";

export const identityProviders = (): IdentityProvider[] => config().AMBER_IDENTITY_PROVIDERS;
const providerNamed = (id: string) => identityProviders().find((one) => one.id === id) ?? null;

/** Milliseconds that somebody may take at the provider. */
const lasts = 15 * 60_000;
const patienceSeconds = 10;

/** What is wrong at the provider, in a sentence for whoever wants to sign in. */
export class IdentityTrouble extends Error {}

// A provider's own description hardly ever changes; one that could not be read is asked again.
const described = new Map<string, Promise<Configuration>>();
function askDescription(provider: IdentityProvider): Promise<Configuration> {
  const key = JSON.stringify(provider);
  const known = described.get(key);
  if (known) return known;
  const asking = discovery(new URL(provider.issuer), provider.clientId, provider.clientSecret, undefined, {
    // A provider of this machine needs no encryption; any other is asked by https alone.
    execute: isLoopback(new URL(provider.issuer).host) ? [allowInsecureRequests] : [],
    timeout: patienceSeconds,
  });
  described.set(key, asking);
  asking.catch(() => described.delete(key));
  return asking;
}

async function clientOf(provider: IdentityProvider): Promise<Configuration> {
  try {
    return await askDescription(provider);
  } catch {
    throw new IdentityTrouble(`${provider.name} cannot be reached. Try again later.`);
  }
}

const redirectOf = (origin: string, { id }: IdentityProvider) => `${origin}/sign-in/back/${id}`;

/** Where a browser is sent to sign in, and what it keeps meanwhile; null where there is no such provider. */
export async function beginAt(
  providerId: string,
  { origin, target, at, acr = null }: { origin: string; target: string; at: number; acr?: string | null },
): Promise<{ address: string; flow: string } | null> {
  const provider = providerNamed(providerId);
  if (!provider) return null;
  const client = await clientOf(provider);
  const flow = randomBytes(24).toString("base64url");
  const [verifier, state, nonce] = [randomPKCECodeVerifier(), randomState(), randomNonce()];
  await run("DELETE FROM sign_in_flows WHERE expires_at < ?", [at]);
  await run(
    "INSERT INTO sign_in_flows (flow_hash, provider, state, nonce, verifier, target, asks_factor, expires_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
    [digest(flow), provider.id, state, nonce, verifier, cut(target, 2000), acr !== null, at + lasts],
  );
  const address = buildAuthorizationUrl(client, {
    redirect_uri: redirectOf(origin, provider),
    scope: provider.scope,
    code_challenge: await calculatePKCECodeChallenge(verifier),
    code_challenge_method: "S256",
    state,
    nonce,
    ...(acr ? { acr_values: acr, prompt: "login" } : {}),
  });
  return { address: address.href, flow };
}

export type CameBack =
  | { token: string; target: string }
  /** Who administers must show a second factor: they are sent again, and asked for it. */
  | { again: { address: string; flow: string } }
  | { wrong: string };

/** What is remembered while somebody is at the provider. */
interface Flow {
  provider: string;
  state: string;
  nonce: string;
  verifier: string;
  target: string;
  /** Whether the second factor was asked for. */
  asksFactor: number;
}

const notBegun = {
  wrong: "This did not begin in this browser, or it took too long. Sign in again from the beginning.",
};

/** Somebody came back from a provider. A flow is used once, whatever becomes of it. */
export async function comeBack(
  providerId: string,
  flow: string,
  { url, origin, at, agent, address }: { url: URL; origin: string; at: number; agent: string; address: string },
): Promise<CameBack> {
  const provider = providerNamed(providerId);
  const [kept] = await rows<Flow>(
    "SELECT provider, state, nonce, verifier, target, asks_factor AS asksFactor FROM sign_in_flows WHERE flow_hash = ? AND expires_at > ?",
    [digest(flow), at],
  );
  const isOurs = (await run("DELETE FROM sign_in_flows WHERE flow_hash = ?", [digest(flow)])) > 0;
  if (!provider || !kept || !isOurs || kept.provider !== provider.id) return notBegun;
  const client = await clientOf(provider);
  let claims: IDToken | undefined;
  try {
    const back = new URL(redirectOf(origin, provider));
    back.search = url.search;
    const checks = { pkceCodeVerifier: kept.verifier, expectedState: kept.state, expectedNonce: kept.nonce };
    claims = (await authorizationCodeGrant(client, back, { ...checks, idTokenExpected: true })).claims();
  } catch {
    await noteEvent({ kind: "sign-in failed", what: provider.id, address });
    return { wrong: `${provider.name} did not sign you in. Try again, or ask whoever runs it.` };
  }
  const account = await accountOfClaims(provider, claims);
  if ("wrong" in account) {
    await noteEvent({ kind: "sign-in failed", what: provider.id, address });
    return account;
  }
  const acr = await acrFor(provider, account, at);
  if (acr && claims?.acr !== acr) {
    if (kept.asksFactor)
      return {
        wrong: `${provider.name} did not ask you for the second factor that ${account.administers ? "administrators" : "staff"} need.`,
      };
    const again = await beginAt(provider.id, { origin, target: kept.target, at, acr });
    return again ? { again } : notBegun;
  }
  await noteEvent({ kind: "signed in", accountId: account.id, what: provider.id, address });
  const token = await openSession(account.id, agent, at, provider.id);
  return { token, target: kept.target };
}

interface Known {
  id: string;
  sourcedId: string;
  administers: boolean;
}

/** What somebody must have shown at a provider, by what they are here; nothing of most. */
async function acrFor(provider: IdentityProvider, account: Known, at: number): Promise<string | undefined> {
  if (account.administers && provider.administratorsAcr) return provider.administratorsAcr;
  return provider.staffAcr && (await isStaff(account.sourcedId, at)) ? provider.staffAcr : undefined;
}

/** The account of whoever a provider names; made where there is none yet. */
async function accountOfClaims(
  provider: IdentityProvider,
  claims: IDToken | undefined,
): Promise<Known | { wrong: string }> {
  const said = (name: string) => (typeof claims?.[name] === "string" ? cut(String(claims[name]).trim(), 100) : "");
  const sourcedId = said(provider.claim);
  if (!sourcedId)
    return {
      wrong: `${provider.name} does not say who you are at the registrar (${provider.claim}). Ask whoever runs it.`,
    };
  const find = () =>
    rows<{ id: string; administers: number; isDisabled: number }>(
      "SELECT id, administers, disabled_at IS NOT NULL AS isDisabled FROM accounts WHERE sourced_id = ?",
      [sourcedId],
    );
  let [found] = await find();
  if (!found) {
    const username = said("preferred_username") || said("email") || sourcedId;
    const [taken] = await rows("SELECT 1 FROM accounts WHERE login = ?", [loginOf(username) ?? ""]);
    const free = taken || loginOf(username) === null ? `${sourcedId} at ${provider.id}` : username;
    const displayName = said("family_name")
      ? `${said("family_name")}, ${said("given_name")}`
      : said("name") || username;
    await createAccount({
      username: cut(free, 100),
      sourcedId,
      displayName,
      email: said("email") || null,
      passwordHash: null,
    });
    await noteEvent({ kind: "account changed", what: `made: ${provider.id}` });
    [found] = await find();
  }
  if (!found || found.isDisabled) return { wrong: "This account is disabled. Ask whoever administers Amber Weave." };
  return { id: found.id, sourcedId, administers: Boolean(found.administers) };
}

/** Where somebody is signed out of the provider too; null where it has no such address, or none is known. */
export async function endAt(providerId: string | null, origin: string): Promise<string | null> {
  const provider = providerId === null ? null : providerNamed(providerId);
  if (!provider) return null;
  const client = await askDescription(provider).catch(() => null);
  if (!client?.serverMetadata().end_session_endpoint) return null;
  return buildEndSessionUrl(client, { post_logout_redirect_uri: `${origin}/sign-in` }).href;
}
