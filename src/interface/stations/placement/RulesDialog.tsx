import { ArrowDown, ArrowUp, X } from "lucide-react";
import { useMemo, useState } from "react";
import { Button as AriaButton } from "react-aria-components";
import { countRules } from "../../../core/placement/following.ts";
import { formingColumns, nameOf } from "../../../core/placement/forming/input.ts";
import { compareText, lookup } from "../../../core/plan/lookup.ts";
import type { Layer, PlacementRule } from "../../../core/plan/types.ts";
import { Button } from "../../kit/Button.tsx";
import { Chip } from "../../kit/Chip.tsx";
import kit from "../../kit/controls.module.css";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { Choice, TextField } from "../../kit/Fields.tsx";
import { Stripe } from "../../kit/Stripe.tsx";
import { plural } from "../../kit/words.ts";
import { useStudents, useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import styles from "./rules.module.css";

type Attribute = NonNullable<PlacementRule["attribute"]>;
/** A rule while it is edited, with a key of its own so that rows keep their fields when the order changes. */
type Edited = PlacementRule & { key: number };

/** Placement rules of a layer, in their order: whom each takes, and who falls through. */
export function RulesDialog({ layer, onClose }: { layer: Layer; onClose(): void }) {
  const { store, plan, t } = useWorkbench();
  const students = useStudents();
  const groups = lookup(plan).groupsOfLayer.get(layer.id) ?? [];
  const [rules, setRules] = useState<Edited[]>(() => (layer.following ?? []).map((rule, key) => ({ ...rule, key })));
  const [next, setNext] = useState(rules.length);
  const counted = useMemo(() => countRules(plan, rules, students, t), [plan, rules, students, t]);
  const change = (at: number, fields: Partial<PlacementRule>) =>
    setRules(rules.map((rule, place) => (place === at ? { ...rule, ...fields } : rule)));
  const move = (at: number, by: number) => {
    const moved = [...rules];
    const [rule] = moved.splice(at, 1);
    if (rule) moved.splice(at + by, 0, rule);
    setRules(moved);
  };
  const add = () => {
    const free = groups.find(({ id }) => !rules.some(({ groupId }) => groupId === id)) ?? groups[0];
    if (free) setRules([...rules, { sectionIds: [], attribute: null, groupId: free.id, key: next }]);
    setNext(next + 1);
  };
  const follow = (following: PlacementRule[] | null) => {
    if (store.draft([{ kind: "layer.change", layerId: layer.id, fields: { following } }])) onClose();
  };
  const blank = rules.some(({ attribute }) => attribute?.values.some((value) => value.trim() === ""));
  return (
    <Dialog title={`How ${layer.name} follows the sections`} onClose={onClose} wide>
      <p className={base.soft}>
        The first rule that fits decides. Whoever is held stays; whoever no rule takes is left over.
        {layer.following === null && " Whoever is in another group now than the rules say is held there."}
      </p>
      <ol className={styles.rules}>
        {rules.map((rule, at) => (
          <li key={rule.key} aria-label={`Rule ${at + 1}`}>
            <Sections rule={rule} onChange={(sectionIds) => change(at, { sectionIds })} />
            <Test attribute={rule.attribute} onChange={(attribute) => change(at, { attribute })} />
            <Choice
              label="Into"
              value={rule.groupId}
              options={groups.map((group) => ({
                value: group.id,
                label: group.name,
                picture: <Stripe stripe={group.stripe} isPrivate={layer.private} />,
              }))}
              onChange={(groupId) => change(at, { groupId })}
            />
            <span className={styles.takes}>
              takes <strong>{counted.taken[at]}</strong>
            </span>
            <span className={styles.order}>
              <AriaButton
                className={kit.remove as string}
                aria-label={`Rule ${at + 1} up`}
                isDisabled={at === 0}
                onPress={() => move(at, -1)}
              >
                <ArrowUp size={14} aria-hidden />
              </AriaButton>
              <AriaButton
                className={kit.remove as string}
                aria-label={`Rule ${at + 1} down`}
                isDisabled={at === rules.length - 1}
                onPress={() => move(at, 1)}
              >
                <ArrowDown size={14} aria-hidden />
              </AriaButton>
              <AriaButton
                className={kit.remove as string}
                aria-label={`Drop rule ${at + 1}`}
                onPress={() => setRules(rules.filter((other) => other !== rule))}
              >
                <X size={14} aria-hidden />
              </AriaButton>
            </span>
          </li>
        ))}
      </ol>
      <p aria-live="polite">
        <strong>{counted.through.length}</strong> of {plural(students.length, "student")} fall through
        {counted.through.length > 0 && (
          <span className={base.soft}>
            {": "}
            {counted.through
              .slice(0, 6)
              .map((id) => nameOf(plan, id))
              .join("; ")}
            {counted.through.length > 6 && ` and ${counted.through.length - 6} more`}
          </span>
        )}
      </p>
      <Actions>
        <Button onPress={add} isDisabled={groups.length === 0}>
          Add a rule
        </Button>
        <span className={base.push} />
        <Button onPress={onClose}>Leave</Button>
        {layer.following !== null && <Button onPress={() => follow(null)}>Stop following, keep everyone</Button>}
        <Button
          strong
          isDisabled={rules.length === 0 || blank}
          onPress={() => follow(rules.map(({ key: _, ...rule }) => rule))}
        >
          Draft the rules
        </Button>
      </Actions>
    </Dialog>
  );
}

function Sections({ rule, onChange }: { rule: PlacementRule; onChange(sectionIds: string[]): void }) {
  const { plan } = useWorkbench();
  const sections = Object.values(plan.sections).sort((a, b) => compareText(a.code, b.code));
  const { sectionIds } = rule;
  return (
    <div className={styles.sections}>
      <Choice
        label="Section"
        value={null}
        placeholder={sectionIds.length === 0 ? "any" : "or another"}
        options={sections
          .filter(({ id }) => !sectionIds.includes(id))
          .map(({ id, code, title }) => ({ value: id, label: code, aside: title }))}
        onChange={(id) => onChange([...sectionIds, id])}
      />
      {sectionIds.length > 0 && (
        <span className={kit.chips}>
          {sectionIds.map((id) => (
            <Chip
              key={id}
              name={plan.sections[id]?.code ?? "a removed section"}
              onLeaveOut={() => onChange(sectionIds.filter((other) => other !== id))}
            />
          ))}
        </span>
      )}
    </div>
  );
}

function Test({ attribute, onChange }: { attribute: Attribute | null; onChange(attribute: Attribute | null): void }) {
  const { plan } = useWorkbench();
  const students = useStudents();
  const columns = useMemo(() => formingColumns(plan, students), [plan, students]);
  const values = (first: string, second?: string) => (second === undefined ? [first] : [first, second]);
  return (
    <div className={styles.test}>
      <Choice
        label="And column"
        value={attribute?.column ?? "none"}
        options={[
          { value: "none", label: "whatever else" },
          ...columns.map(({ column }) => ({ value: column, label: column })),
        ]}
        onChange={(column) => onChange(column === "none" ? null : { test: "is", values: [""], ...attribute, column })}
      />
      {attribute && (
        <>
          <Choice<Attribute["test"]>
            label="Test"
            value={attribute.test}
            options={[
              { value: "is", label: "is" },
              { value: "starts with", label: "starts with" },
              { value: "is between", label: "is between" },
            ]}
            onChange={(test) =>
              onChange({
                ...attribute,
                test,
                values: values(
                  attribute.values[0] ?? "",
                  test === "is between" ? (attribute.values[1] ?? "") : undefined,
                ),
              })
            }
          />
          <TextField
            label={attribute.test === "is between" ? "From" : "Value"}
            value={attribute.values[0] ?? ""}
            onChange={(text) => onChange({ ...attribute, values: values(text, attribute.values[1]) })}
          />
          {attribute.test === "is between" && (
            <TextField
              label="To"
              value={attribute.values[1] ?? ""}
              onChange={(text) => onChange({ ...attribute, values: values(attribute.values[0] ?? "", text) })}
            />
          )}
        </>
      )}
    </div>
  );
}
