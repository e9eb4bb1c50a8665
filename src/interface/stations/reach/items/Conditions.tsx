/** An item's own condition and its variants, when each group gets it, and trying it on one student. */

import { useMemo, useState } from "react";
import { sayInstant } from "../../../../core/clock/local-time.ts";
import { fullName, lookup } from "../../../../core/plan/lookup.ts";
import type { Item } from "../../../../core/plan/types.ts";
import { conditionFor, judge, type Reason } from "../../../../core/reach/conditions.ts";
import { asksProgress, releasesOf } from "../../../../core/reach/releases.ts";
import { Button } from "../../../kit/Button.tsx";
import { Choice } from "../../../kit/Fields.tsx";
import { byPlace } from "../../../kit/places.ts";
import { useFindings, useReach, useWorkbench } from "../../../workbench/context.tsx";
import { GroupName } from "../../GroupName.tsx";
import { Person } from "../../Person.tsx";
import base from "../../station.module.css";
import { Targets } from "../../Targets.tsx";
import { ConditionBuilder } from "./ConditionBuilder.tsx";
import styles from "./items.module.css";

type Conditional = Pick<Item, "condition" | "variants">;

interface ConditionsProps {
  /** The item as it is being written. */
  item: Item;
  onChange(changes: Conditional): void;
}

export function Conditions({ item, onChange }: ConditionsProps) {
  const { plan } = useWorkbench();
  const { condition, variants } = item;
  const others = Object.values(plan.items).filter(
    (one) => one.id !== item.id && (one.condition || one.variants.length > 0),
  );
  const setVariant = (at: number, changes: Partial<Item["variants"][number]>) =>
    onChange({ condition, variants: variants.map((one, place) => (place === at ? { ...one, ...changes } : one)) });
  return (
    <fieldset className={styles.chooser}>
      <legend>Release condition</legend>
      {byPlace(variants).map(({ key, place: at, one: variant }) => (
        <div key={key} className={styles.variant}>
          <Targets
            label={`Variant ${at + 1}, for`}
            targets={variant.targets}
            onChange={(targets) => setVariant(at, { targets })}
          />
          <ConditionBuilder
            label={`Variant ${at + 1}`}
            condition={variant.condition}
            onChange={(next) => setVariant(at, { condition: next })}
            itemId={item.id}
          />
          <Button quiet onPress={() => onChange({ condition, variants: variants.filter((_, place) => place !== at) })}>
            Remove variant {at + 1}
          </Button>
        </div>
      ))}
      {variants.length > 0 && <p className={base.soft}>For everyone else:</p>}
      <ConditionBuilder
        label="Condition"
        condition={condition}
        onChange={(next) => onChange({ condition: next, variants })}
        itemId={item.id}
      />
      <div className={styles.conditionTools}>
        <Button
          quiet
          onPress={() => onChange({ condition, variants: [...variants, { targets: [], condition: null }] })}
        >
          Another condition for some groups
        </Button>
        {others.length > 0 && (
          <Choice
            label="Copy the condition of"
            hideLabel
            placeholder="Copy the condition of"
            value={null}
            onChange={(id) => {
              const from = plan.items[id];
              if (from) onChange({ condition: from.condition, variants: from.variants });
            }}
            options={others.map(({ id, title }) => ({ value: id, label: title }))}
          />
        )}
      </div>
      <Releases item={item} />
      <Try item={item} />
    </fieldset>
  );
}

/** The moment at which each group of a layer gets an item, as far as the clock decides. */
export function Releases({ item }: { item: Item }) {
  const { plan } = useWorkbench();
  const reach = useReach();
  const audit = useFindings();
  const layers = lookup(plan).layers;
  const layerId = audit.sightlines?.layerId ?? layers[0]?.id ?? "";
  const groups = lookup(plan).groupsOfLayer.get(layerId) ?? [];
  const found = useMemo(() => {
    const sets = (lookup(reach.plan).groupsOfLayer.get(layerId) ?? []).map(({ id }) =>
      reach.members({ kind: "group", id }),
    );
    return releasesOf(reach, item, sets);
  }, [reach, item, layerId]);
  const say = (at: number) => sayInstant(at, plan.course.timeZone);
  const start = Math.min(...found.map(({ first }) => first ?? Number.POSITIVE_INFINITY));
  if (groups.length === 0 || groups.length > 12) return null;
  return (
    <ul className={styles.releases} aria-label="When each group gets it">
      {groups.map((group, at) => {
        const one = found[at];
        if (!one || one.members === 0) return null;
        const when =
          one.meant === 0
            ? "not for them"
            : one.first === null
              ? "never"
              : `${one.first === start && isTermStart(one.first, reach.plan.course.termStart) ? "from the first day" : say(one.first)}${one.last !== one.first && one.last !== null ? ` to ${say(one.last)}` : ""}`;
        return (
          <li key={group.id}>
            <GroupName group={group} />{" "}
            <span className={base.soft}>
              {when}
              {one.first !== null && one.reached < one.members && `, ${one.reached} of ${one.members}`}
              {one.first !== null && asksProgress(item) && ", once what is asked is done"}
            </span>
          </li>
        );
      })}
    </ul>
  );
}
const isTermStart = (at: number, day: string): boolean => Math.abs(at - Date.parse(`${day}T00:00:00Z`)) < 15 * 3600_000;

/** A condition on one student: every part true or false, with what was found and what it needs. */
function Try({ item }: { item: Item }) {
  const { plan, t } = useWorkbench();
  const reach = useReach();
  const [personId, setPersonId] = useState<string | null>(null);
  const index = personId ? reach.indexOf.get(personId) : undefined;
  const memberships = index === undefined ? null : reach.memberships(index);
  const condition = memberships && conditionFor(item, memberships);
  const person = personId ? plan.people[personId] : undefined;
  if (!item.condition && item.variants.length === 0) return null;
  return (
    <div className={styles.tried}>
      <Person label="Try it on" personId={personId} onChange={setPersonId} />
      {person && memberships && (
        <div aria-live="polite">
          {condition ? (
            <ReasonTree reason={judge(condition, { plan, progress: reach.progress, memberships, t })} />
          ) : (
            <p>No condition applies to {fullName(person)}.</p>
          )}
        </div>
      )}
    </div>
  );
}

/** Why a condition holds or does not, as a tree of its own shape. */
export function ReasonTree({ reason }: { reason: Reason }) {
  return (
    <ul className={base.steps}>
      <ReasonLine reason={reason} />
    </ul>
  );
}
function ReasonLine({ reason }: { reason: Reason }) {
  return (
    <li data-fails={!reason.holds || undefined}>
      {reason.says}
      {reason.parts.length > 0 && (
        <ul className={base.steps}>
          {byPlace(reason.parts).map(({ key, one: part }) => (
            <ReasonLine key={key} reason={part} />
          ))}
        </ul>
      )}
    </li>
  );
}
