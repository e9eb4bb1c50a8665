/** How people sign in here, and who lately could not: for administrators. */
import { identityProviders } from "../accounts/identity-providers.ts";
import { config } from "../config.ts";
import { rows } from "../store/database.ts";

export interface FailedSignIn {
  /** Null where no account was meant. */
  name: string | null;
  kind: string;
  what: string;
  address: string;
  lastAt: number;
  times: number;
}

const most = 50;

/** Sign-ins that failed or were slowed in the last week, the latest first; the same within an hour stand once. */
export const failedSignIns = (at: number): Promise<FailedSignIn[]> =>
  rows<FailedSignIn>(
    `SELECT a.display_name AS name, e.kind, e.what, e.address, e.last_at AS lastAt, e.times FROM security_events e
     LEFT JOIN accounts a ON a.id = e.account_id
     WHERE e.at > ? AND e.kind IN ('sign-in failed', 'sign-in slowed') ORDER BY e.last_at DESC LIMIT ${most}`,
    [at - 7 * 86_400_000],
  );

const asked = { optional: "whoever likes", administrators: "administrators", staff: "administrators and all staff" };

export interface SignInWay {
  name: string;
  says: string;
}
/** The ways in, as the configuration has them. */
export function signInWays(): SignInWay[] {
  const { AMBER_LOCAL_SIGN_IN, AMBER_SECOND_FACTOR } = config();
  const local =
    AMBER_LOCAL_SIGN_IN === "off"
      ? "Off (AMBER_LOCAL_SIGN_IN)."
      : `On. A second factor: ${asked[AMBER_SECOND_FACTOR]} (AMBER_SECOND_FACTOR).`;
  const providers = identityProviders().map(({ name, issuer, claim, administratorsAcr, staffAcr }) => {
    const factors = [
      administratorsAcr && `administrators must show ${administratorsAcr}`,
      staffAcr && `staff must show ${staffAcr}`,
    ].filter(Boolean);
    return {
      name,
      says: `${issuer}; the registrar's id is its claim ${claim}${factors.length > 0 ? `; ${factors.join(", ")}` : ""}.`,
    };
  });
  return [...providers, { name: "Passwords of our own", says: local }];
}
