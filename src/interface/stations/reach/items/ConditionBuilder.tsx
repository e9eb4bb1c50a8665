/** Release conditions as sentences, nested as deep as wanted. Source: semantics.md section 5. */

import { X } from "lucide-react";
import { outlineOrder } from "../../../../core/plan/lookup.ts";
import type { Condition, Item, Moment } from "../../../../core/plan/types.ts";
import { Button } from "../../../kit/Button.tsx";
import { Choice } from "../../../kit/Fields.tsx";
import { NumberField } from "../../../kit/NumberField.tsx";
import { byPlace } from "../../../kit/places.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import { MomentField } from "../../MomentField.tsx";
import { Targets } from "../../Targets.tsx";
import styles from "./items.module.css";

type Kind = Condition["kind"];
const kinds: { value: Kind; label: string }[] = [
  { value: "from", label: "it is on or after" },
  { value: "before", label: "it is before" },
  { value: "in", label: "they are in" },
  { value: "handedIn", label: "they handed in" },
  { value: "atLeast", label: "they have at least" },
  { value: "lessThan", label: "they have less than" },
  { value: "opened", label: "they opened" },
  { value: "read", label: "they marked as read" },
  { value: "allOf", label: "all of these" },
  { value: "anyOf", label: "any of these" },
  { value: "noneOf", label: "none of these" },
];

interface BuilderProps {
  /** Read out before each field. */
  label: string;
  condition: Condition | null;
  onChange(condition: Condition | null): void;
  /** The item that the condition is of, which it is not offered to ask about. */
  itemId: string | null;
}

export function ConditionBuilder({ label, condition, onChange, itemId }: BuilderProps) {
  const { plan, t } = useWorkbench();
  const items = outlineOrder(plan)
    .map(({ item }) => item)
    .filter(({ id, kind }) => id !== itemId && kind !== "folder");
  const blank = (kind: Kind): Condition => blankOf(kind, items, t);
  if (!condition)
    return (
      <div className={styles.noCondition}>
        <span>It opens without a condition.</span>
        <Choice
          label={`${label}: add`}
          hideLabel
          value={null}
          placeholder="Only if"
          onChange={(kind) => onChange(blank(kind))}
          options={kinds}
        />
      </div>
    );
  return <Part label={label} condition={condition} onChange={onChange} items={items} blank={blank} />;
}

function blankOf(kind: Kind, items: Item[], t: number): Condition {
  const day = new Date(t).toISOString().slice(0, 10);
  switch (kind) {
    case "allOf":
    case "anyOf":
    case "noneOf":
      return { kind, of: [] };
    case "from":
    case "before":
      return { kind, moment: `${day}T09:00` };
    case "in":
      return { kind, targets: [] };
    case "atLeast":
    case "lessThan": {
      const marked = items.find(({ points }) => points !== null);
      return { kind, itemId: marked?.id ?? items[0]?.id ?? "none", percent: 60 };
    }
    default:
      return { kind, itemId: items.find((item) => fits(kind, item))?.id ?? items[0]?.id ?? "none" };
  }
}

/** What can be asked of an item: a mark where it has points, a hand-in where it takes one, reading where it is read. */
const fits = (kind: Kind, item: Item): boolean =>
  kind === "atLeast" || kind === "lessThan"
    ? item.points !== null
    : kind === "handedIn"
      ? ["assignment", "quiz", "discussion"].includes(item.kind)
      : kind === "read"
        ? ["page", "file", "link"].includes(item.kind)
        : true;

interface PartProps {
  label: string;
  condition: Condition;
  onChange(condition: Condition | null): void;
  items: Item[];
  blank(kind: Kind): Condition;
}

function Part(props: PartProps) {
  const { label, condition, onChange, blank } = props;
  const turn = (kind: Kind) => {
    const next = blank(kind);
    // What fits the new kind stays: parts, an item, a moment.
    if ("of" in next && "of" in condition) onChange({ ...condition, kind: next.kind });
    else if ("of" in next) onChange({ ...next, of: [condition] });
    else if ("moment" in next && "moment" in condition) onChange({ ...next, moment: condition.moment });
    else if ("percent" in next && "percent" in condition) onChange({ ...condition, kind: next.kind });
    else onChange(next);
  };
  return (
    <div className={styles.conditionPart} role="group" aria-label={label}>
      <div className={styles.sentence}>
        <Choice label={`${label}: kind`} hideLabel value={condition.kind} onChange={turn} options={kinds} />
        <Leaf {...props} />
        <Button quiet aria-label={`Remove ${label}`} onPress={() => onChange(null)}>
          <X size={14} aria-hidden />
        </Button>
      </div>
      {"of" in condition && (
        <div className={styles.parts}>
          {byPlace(condition.of).map(({ key, place: at, one: part }) => (
            <Part
              key={key}
              {...props}
              label={`${label}, part ${at + 1}`}
              condition={part}
              onChange={(next) =>
                onChange({
                  ...condition,
                  of: next
                    ? condition.of.map((one, place) => (place === at ? next : one))
                    : condition.of.filter((_, place) => place !== at),
                })
              }
            />
          ))}
          <Choice
            label={`${label}: add a part`}
            hideLabel
            value={null}
            placeholder={
              condition.of.length === 0 ? "Add a part" : { allOf: "and", anyOf: "or", noneOf: "nor" }[condition.kind]
            }
            onChange={(kind) => onChange({ ...condition, of: [...condition.of, blank(kind)] })}
            options={kinds}
          />
        </div>
      )}
    </div>
  );
}

function Leaf({ label, condition, onChange, items }: PartProps) {
  if ("of" in condition) return null;
  if ("moment" in condition)
    return (
      <MomentField
        label={`${label}: moment`}
        value={condition.moment}
        onChange={(moment: Moment | null) => moment !== null && onChange({ ...condition, moment })}
      />
    );
  if (condition.kind === "in")
    return (
      <Targets
        label={`${label}: groups or sections`}
        targets={condition.targets}
        onChange={(targets) => onChange({ ...condition, targets })}
      />
    );
  const options = items
    .filter((item) => fits(condition.kind, item) || item.id === condition.itemId)
    .map((item) => ({ value: item.id, label: item.title }));
  const item = (
    <Choice
      label={`${label}: item`}
      hideLabel
      value={condition.itemId}
      onChange={(itemId) => onChange({ ...condition, itemId })}
      options={options}
    />
  );
  if (!("percent" in condition)) return item;
  return (
    <>
      <NumberField
        label={`${label}: percent`}
        value={condition.percent}
        least={0}
        most={1000}
        decimal
        onChange={(percent) => onChange({ ...condition, percent })}
      />
      <span>% on</span>
      {item}
    </>
  );
}
