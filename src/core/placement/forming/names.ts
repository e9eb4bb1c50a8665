/** Names and leads of formed groups. Source: semantics.md section 3. */

import type { Forming } from "../../plan/forming.ts";
import { chance } from "./random.ts";

/** The names of a scope's groups; the number restarts in each scope. Those in `taken` are passed over. */
export function groupNames(names: Forming["names"], scope: string, count: number, taken: Set<string>): string[] {
  const tidy = (text: string) => text.replace(/\s+/g, " ").trim();
  return Array.from({ length: count }, (_, at) => {
    const topics = names.kind === "topics" ? names.topics : [];
    const turn = topics.length > 0 ? Math.floor(at / topics.length) + 1 : 1;
    const plain =
      names.kind === "topics"
        ? tidy(`${topics[at % topics.length]} ${scope}`) + (turn > 1 ? ` ${turn}` : "")
        : tidy(names.pattern.replaceAll("{scope}", scope).replaceAll("{n}", String(at + 1)));
    let name = plain;
    for (let further = 2; taken.has(name.toLowerCase()); further++) name = `${plain} ${further}`;
    taken.add(name.toLowerCase());
    return name;
  });
}

/** One lead a group, or none: at random, or one of those who have led least. */
export function chooseLeads(
  groups: string[][],
  leads: Forming["leads"],
  led: Record<string, number>,
  seed: number,
): string[][] {
  const random = chance(seed ^ 0x1ead);
  return groups.map((people) => {
    if (leads === "none" || people.length === 0) return [];
    const least = Math.min(...people.map((id) => led[id] ?? 0));
    const wanted = leads === "new" ? people.filter((id) => (led[id] ?? 0) === least) : people;
    return [wanted[random.below(wanted.length)] as string];
  });
}
