/** For whom something is, in words: "everyone", "nobody", "Evening and Day 1", "Evening, not 00240037". */
import type { Audience } from "../plan/types.ts";
import { isNotUnderstood, type LineContext, type NotUnderstood, targetsNamed } from "./names.ts";

export function readAudience(context: LineContext, text: string): Audience | NotUnderstood {
  const [to = "", without] = text.split(/,?\s+not\s+/i);
  const minus = without === undefined ? [] : targetsNamed(context, without);
  if (isNotUnderstood(minus)) return minus;
  if (/^(everyone|everybody|all)$/i.test(to.trim())) return { to: "everyone", minus };
  if (/^nobody$/i.test(to.trim())) return { to: [], minus };
  const named = targetsNamed(context, to.replaceAll(/\s+and\s+/gi, ", "));
  return isNotUnderstood(named) ? named : { to: named, minus };
}
