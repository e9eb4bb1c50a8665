import { type ReactNode, useMemo, useState } from "react";
import { dayOf } from "../../../../core/clock/local-time.ts";
import { readBlock } from "../../../../core/gradebook/entry.ts";
import { lookup, targetName } from "../../../../core/plan/lookup.ts";
import type { DateField, Group, Item, Override, Plan, Target } from "../../../../core/plan/types.ts";
import { isForGroup } from "../../../../core/reach/for-groups.ts";
import {
  dateFields,
  type GivenValue,
  isMomentField,
  momentFields,
  type Value,
} from "../../../../core/timing/resolving/resolve.ts";
import type { DateTable } from "../../../../core/timing/resolving/table.ts";
import { usualInGroup, usualOf } from "../../../../core/timing/resolving/usual.ts";
import { pastedDates, setting } from "../../../../core/timing/typing/pasted-dates.ts";
import { Checkbox } from "../../../kit/Fields.tsx";
import { plural } from "../../../kit/words.ts";
import { useReach, useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import { TargetStripe, Targets } from "../../Targets.tsx";
import { fieldTitle } from "../sayValue.ts";
import styles from "../timing.module.css";
import { DateCell } from "./DateCell.tsx";

interface DatesOfProps {
  table: DateTable;
  items: Item[];
  groups: Group[];
  layerChoice: ReactNode;
  isPrivate: boolean;
}

const keyOf = ({ kind, id }: Target) => `${kind} ${id}`;
const overridesOf = (plan: Plan, item: Item, target: Target): Override | undefined =>
  (lookup(plan).overridesOfItem.get(item.id) ?? []).find((one) => keyOf(one.target) === keyOf(target));

/** Whom the dates of some items differ for, beside the groups of the layer that is shown. */
function others(plan: Plan, items: Item[], groups: Group[], added: Target[]): Target[] {
  const shown = new Set(groups.map(({ id }) => `group ${id}`));
  const found = new Map<string, Target>();
  for (const item of items)
    for (const { target } of lookup(plan).overridesOfItem.get(item.id) ?? []) found.set(keyOf(target), target);
  for (const target of added) found.set(keyOf(target), target);
  return [...found].filter(([key]) => !shown.has(key)).map(([, target]) => target);
}

/** Whether any of some items has attempts, minutes or a password, or is of a kind that does. */
const hasLimits = (plan: Plan, items: Item[]): boolean =>
  items.some(
    (item) =>
      item.kind === "quiz" ||
      item.kind === "assignment" ||
      [item, ...(lookup(plan).overridesOfItem.get(item.id) ?? [])].some(({ dates }) =>
        dateFields.some((field) => !isMomentField(field) && dates[field] !== undefined),
      ),
  );

/** The base dates of one or several items, and those that differ: a row for each group and whoever else has their own. */
export function DatesOf({ table, items, groups, layerChoice, isPrivate }: DatesOfProps) {
  const { plan } = useWorkbench();
  const reach = useReach();
  const [added, setAdded] = useState<Target[]>([]);
  const [limits, setLimits] = useState(() => hasLimits(plan, items));
  const fields: readonly DateField[] = limits ? dateFields : momentFields;
  const [first] = items as [Item];
  // A group that none of the items is for has no dates of them, unless some are set for it all the same.
  const hasAny = (group: Group) =>
    items.some((item) => isForGroup(reach, item, group.id) || overridesOf(plan, item, { kind: "group", id: group.id }));
  const theirs = groups.filter(hasAny);
  const apart = groups.filter((group) => !theirs.includes(group)).map(({ name }) => name);
  const rows: Target[] = [
    ...theirs.map(({ id }): Target => ({ kind: "group", id })),
    ...others(plan, items, groups, added),
  ];
  const paste = usePaste(items, [null, ...rows], fields);
  const title = items.length === 1 ? first.title : plural(items.length, "item");
  return (
    <section aria-label={`Dates of ${title}`} className={styles.datesOf}>
      <div className={styles.datesHead}>
        <h3>{title}</h3>
        <Checkbox isSelected={limits} onChange={setLimits}>
          Attempts, minutes, password
        </Checkbox>
        <span className={base.push} />
        {layerChoice}
      </div>
      <div className={base.scroll}>
        <table className={base.table}>
          <thead className={styles.stickyHead}>
            <tr>
              <th>For</th>
              {fields.map((field) => (
                <th key={field}>
                  {fieldTitle(field, items.every(({ kind }) => kind === "event") ? "event" : undefined)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            <Row {...{ table, items, groups, fields, paste }} target={null} name="Everyone" isPrivate={false} />
            {rows.map((target) => (
              <Row
                key={keyOf(target)}
                {...{ table, items, groups, fields, paste, target }}
                name={targetName(plan, target)}
                isPrivate={isPrivate}
              />
            ))}
          </tbody>
        </table>
        <NotForThem names={apart} of={items.length} />
        <div className={styles.adding}>
          <Targets label="Dates of their own for" targets={[]} onChange={(more) => setAdded([...added, ...more])} />
        </div>
      </div>
    </section>
  );
}

/** Drafts a block that is pasted into the table, or says which of its cells cannot be read. */
function usePaste(items: Item[], rows: readonly (Target | null)[], fields: readonly DateField[]) {
  const { store, plan, t } = useWorkbench();
  return (target: Target | null, field: DateField, text: string) => {
    const itemIds = items.map(({ id }) => id);
    const [down, right] = [rows.indexOf(target), fields.indexOf(field)];
    const day = dayOf(t, plan.course.timeZone);
    const cells = readBlock(text);
    const read = pastedDates(plan, { itemIds, rows: rows.slice(down), fields: fields.slice(right), cells, day });
    if ("wrong" in read) store.tell("wrong", `Nothing was pasted. ${read.wrong.slice(0, 3).join(" ")}`);
    else if (read.length > 0) store.draft(read);
  };
}

/** Groups that have no row, since none of the items is for them. */
function NotForThem({ names, of }: { names: string[]; of: number }) {
  if (names.length === 0) return null;
  return (
    <p className={base.soft}>
      Not for {names.slice(0, 6).join(", ")}
      {names.length > 6 && ` and ${names.length - 6} more`}: they have no dates of {of === 1 ? "it" : "them"}.
    </p>
  );
}

interface RowProps {
  table: DateTable;
  items: Item[];
  groups: Group[];
  fields: readonly DateField[];
  target: Target | null;
  name: string;
  isPrivate: boolean;
  /** A block of cells is pasted that begins at a field of a target. */
  paste(target: Target | null, field: DateField, text: string): void;
}

/** What is set for a target: undefined where the items differ. */
function givenOf(plan: Plan, items: Item[], target: Target | null, field: DateField): GivenValue | null | undefined {
  const all = items.map((item) => {
    const dates = target ? overridesOf(plan, item, target)?.dates : item.dates;
    return (dates?.[field] as GivenValue | undefined) ?? null;
  });
  const [first] = all;
  return all.every((one) => JSON.stringify(one) === JSON.stringify(first)) ? first : undefined;
}

function Row({ table, items, groups, fields, target, name, isPrivate, paste }: RowProps) {
  const { store, plan } = useWorkbench();
  const reach = useReach();
  const [first] = items as [Item];
  const itemIds = useMemo(() => items.map(({ id }) => id), [items]);
  const group = target?.kind === "group" ? plan.groups[target.id] : undefined;
  const usual = (field: DateField): { value: Value; differ: number } => {
    if (items.length > 1) return { value: null, differ: 0 };
    const { number, differ } = group
      ? usualInGroup(table, first, group, field)
      : usualOf(table.column(first, field), target ? reach.members(target) : reach.everyone);
    return { value: table.valueOf(field, number), differ: target ? differ : 0 };
  };
  return (
    <tr>
      <td>
        {target ? <TargetStripe target={target} /> : null} {target ? name : <strong>{name}</strong>}
        {target && !group && <span className={base.soft}> {target.kind}</span>}
        {isPrivate && group ? <span className={base.soft}> private</span> : null}
      </td>
      {fields.map((field) => {
        const { value, differ } = usual(field);
        return (
          <td key={field}>
            <DateCell
              label={`${field === "accessWord" ? "password" : field} for ${target ? name : "everyone"}`}
              field={field}
              itemIds={itemIds}
              target={target}
              own={givenOf(plan, items, target, field)}
              falls={target ? value : null}
              groups={group ? [group] : groups}
              onChange={(given) => store.draft([setting(itemIds, target, { [field]: given })])}
              onPaste={(text) => paste(target, field, text)}
            />
            {differ > 0 && (
              <span className={`${base.soft} ${styles.differ}`}>{plural(differ, "differs", "differ")}</span>
            )}
          </td>
        );
      })}
    </tr>
  );
}
