/** Whom the stand-in for the institution's identity provider knows: the demo's people, and those of its registrar. */
import { makeRegistrar } from "../registrar/state.ts";
import { makeScenario } from "../scenario.ts";

export interface Identity {
  username: string;
  /** The registrar's id. */
  sourcedId: string;
  givenName: string;
  familyName: string;
  email: string;
}

export function identities(): Map<string, Identity> {
  const { plan } = makeScenario(Date.UTC(2026, 10, 25, 10), "6f0e3a52-4a53-4c5c-9a52-0f7f3a1d2b4c");
  const administrator = {
    ...{ username: "administrator", sourcedId: "00239001", givenName: "Ines", familyName: "Kowal" },
    email: "administrator@tarnbeck.example",
  };
  const all = [...Object.values(plan.people), ...Object.values(makeRegistrar().users), administrator];
  return new Map(
    all.map(({ username, sourcedId, givenName, familyName, email }) => [
      username ?? "",
      { username: username ?? "", sourcedId, givenName, familyName, email: email ?? "" },
    ]),
  );
}
