/** Logins that would belong to two people. Source: semantics.md section 2. */

import { fold } from "../text/caseless.ts";
import type { RosterIdentity } from "./known.ts";
import type { Judging } from "./verdict.ts";

const fieldNames = { username: "username", email: "e-mail" };
type Field = keyof typeof fieldNames;

/** Whether some row brings a login that its person does not have yet. */
const isBrought = (judging: Judging, field: Field): boolean =>
  [...judging.changes.values()].some((changes) => changes.some((change) => change.field === field)) ||
  (judging.ids.hasNew && judging.rows.some((row, at) => !judging.known[at]?.person && row[field] !== ""));

/** Who would have each login, folded, if the open rows were taken in. */
function holdersOf(judging: Judging, field: Field): Map<string, RosterIdentity[]> {
  const holders = new Map<string, RosterIdentity[]>();
  for (const known of judging.ids) {
    const claim = judging.ids.isListed(known)
      ? judging.openRows(known).find(({ row }) => row[field] !== "")
      : undefined;
    const value = fold(claim?.row[field] ?? known.person?.[field] ?? "");
    if (value === "") continue;
    const others = holders.get(value);
    if (others) others.push(known);
    else holders.set(value, [known]);
  }
  return holders;
}

/**
 * Clashes are judged on the state that the usable rows would leave. A row that clashes is not used, so its
 * person keeps the old login, which may clash with another row: asked again until nothing more falls.
 * Stored logins are unique, so only rows which bring another one can make a clash.
 */
export function judgeClashes(judging: Judging): void {
  const fields = (["username", "email"] as const).filter((field) => isBrought(judging, field));
  for (let again = fields.length > 0; again; ) {
    again = false;
    for (const field of fields) {
      const holders = holdersOf(judging, field);
      judging.rows.forEach((row, at) => {
        if (row[field] === "" || !judging.isOpen(at)) return;
        const all = holders.get(fold(row[field])) as RosterIdentity[];
        const own = judging.known[at] as RosterIdentity;
        // Whoever has it, and whose own row keeps it, stands beside others who claim it.
        if (all.length === 1 || fold(own.person?.[field] ?? "") === fold(row[field])) return;
        const others = all.filter((other) => other !== own);
        const ids = others.map(({ sourcedId }) => sourcedId).join(" and ");
        judging.settle(at, "clash", `${fieldNames[field]} ${row[field]} belongs to ${ids}`);
        for (const other of others) judging.meansToo(other, at);
        again = true;
      });
    }
  }
}
