/** Groups typed or pasted: names, names with people, or rows of a spreadsheet; said back as they are read. */
import { useMemo } from "react";
import { readTypedGroups, type TypedGroups } from "../../../core/line/typed-groups.ts";
import { listedTwice } from "../../../core/placement/files/take-typed.ts";
import { fullName, targetName } from "../../../core/plan/lookup.ts";
import type { Layer } from "../../../core/plan/types.ts";
import { TextField } from "../../kit/Fields.tsx";
import { plural } from "../../kit/words.ts";
import { useReach, useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import { nameable } from "../Targets.tsx";

/** What a text says of groups and the people of this course. */
export function useTypedGroups(text: string): TypedGroups {
  const reach = useReach();
  return useMemo(() => readTypedGroups(nameable(reach), text), [reach, text]);
}

interface LinesProps {
  label: string;
  text: string;
  setText(text: string): void;
  typed: TypedGroups;
  /** In how many of the groups one may be. */
  rule: Layer["rule"];
  placeholder?: string;
  autoFocus?: boolean;
}
const usualLines = "Reeds\nMarsh: Ada Lovelace (lead), 00240012\nor rows of a spreadsheet: group, student, lead";

export function GroupLines({
  label,
  text,
  setText,
  typed,
  rule,
  placeholder = usualLines,
  autoFocus = false,
}: LinesProps) {
  const { plan } = useWorkbench();
  const { groups, unclear } = typed;
  const people = groups.reduce((sum, { personIds }) => sum + personIds.length, 0);
  const leads = groups.reduce((sum, one) => sum + one.leads.length, 0);
  const meeting = groups.filter(({ pattern }) => pattern.length > 0).length;
  const twice = listedTwice(rule, groups).flatMap((id) => (plan.people[id] ? [fullName(plan.people[id])] : []));
  const said = [
    plural(groups.length, "group"),
    people > 0 && plural(people, "person", "people"),
    leads > 0 && plural(leads, "lead"),
    meeting > 0 && `${meeting} with meetings of their own`,
  ];
  return (
    <>
      <TextField
        label={label}
        lines={6}
        value={text}
        onChange={setText}
        autoFocus={autoFocus}
        placeholder={placeholder}
        hint={said.filter(Boolean).join(", ")}
      />
      {twice.length > 0 && (
        <p role="status" className={base.wrong}>
          In several of these groups, and placed in the first alone: {twice.slice(0, 6).join(", ")}
          {twice.length > 6 && ` and ${twice.length - 6} more`}.
        </p>
      )}
      {unclear.length > 0 && (
        <ul aria-live="polite" className={`${base.unclear} ${base.wrong}`}>
          {unclear.slice(0, 10).map(({ text: who, likely }) => (
            <li key={who}>
              <strong>{who}</strong>{" "}
              {likely.length === 0
                ? "fits nobody here and is left out"
                : `may be ${likely.map((target) => targetName(plan, target)).join(", ")}: write which`}
            </li>
          ))}
          {unclear.length > 10 && <li>and {unclear.length - 10} more</li>}
        </ul>
      )}
    </>
  );
}
