import { useMemo, useState } from "react";
import { v7 } from "uuid";
import { evenParts, partsBy, sectionOf } from "../../../../core/placement/groups/parts.ts";
import { studentsOf } from "../../../../core/placement/membership.ts";
import { compareNames } from "../../../../core/plan/lookup.ts";
import type { Group, Person } from "../../../../core/plan/types.ts";
import { Button } from "../../../kit/Button.tsx";
import { Actions, Dialog } from "../../../kit/Dialog.tsx";
import { Choice } from "../../../kit/Fields.tsx";
import { NumberField } from "../../../kit/NumberField.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { Views } from "../../../kit/Views.tsx";
import { plural } from "../../../kit/words.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import styles from "./groups.module.css";

type Late = "follow" | "hold";

/** The parts of a group: of even size, by section, or (`=NAME`) by something the roster says; the first is who stays. */
function usePartsOf(group: Group, by: string, count: number) {
  const { plan, t } = useWorkbench();
  const people = useMemo(
    () =>
      studentsOf(plan, group.id, t).sort((a, b) => compareNames(plan.people[a] as Person, plan.people[b] as Person)),
    [plan, group.id, t],
  );
  const attributes = [...new Set(people.flatMap((id) => Object.keys(plan.people[id]?.attributes ?? {})))];
  const parts = useMemo(() => {
    if (by === "even")
      return evenParts(people, count).map((personIds, at) => ({
        name: at === 0 ? group.name : `${group.name} ${at + 1}`,
        personIds,
      }));
    const value = (id: string) =>
      by === "section" ? sectionOf(plan, id, t) : (plan.people[id]?.attributes[by.slice(1)] ?? "");
    return [...partsBy(people, value)].map(([said, personIds], at) => ({
      name: at === 0 ? group.name : `${group.name} ${said || "without"}`,
      personIds,
      value: said,
    }));
  }, [by, count, people, group.name, plan, t]);
  return { attributes, parts };
}

/** A group's people in parts: of even size, by section, or by something the roster says. */
export function SplitDialog({ groupId, onClose, onDone }: { groupId: string; onClose(): void; onDone(): void }) {
  const { store, plan } = useWorkbench();
  const group = plan.groups[groupId] as Group;
  const [by, setBy] = useState("even");
  const [count, setCount] = useState(2);
  const [late, setLate] = useState<Late>("follow");
  const isFollowing = plan.layers[group.layerId]?.following != null && by !== "even";
  const { attributes, parts } = usePartsOf(group, by, count);
  const draft = () => {
    const made = parts.slice(1).map((part) => ({ ...part, groupId: v7() }));
    const rules =
      !isFollowing || late === "hold"
        ? undefined
        : by === "section"
          ? { by: "section" as const }
          : { by: "column" as const, column: by.slice(1) };
    if (made.length === 0 || !store.draft([{ kind: "group.split", groupId, parts: made, rules }])) return;
    onDone();
    onClose();
  };
  return (
    <Dialog title={`Split ${group.name}`} onClose={onClose}>
      <SubmitForm onSubmit={draft}>
        <Choice
          label="Its students go apart"
          value={by}
          onChange={setBy}
          options={[
            { value: "even", label: "into even parts" },
            { value: "section", label: "by section" },
            ...attributes.map((name) => ({ value: `=${name}`, label: `by ${name}` })),
          ]}
        />
        {by === "even" && <EvenParts count={count} setCount={setCount} />}
        <ul className={styles.preview} aria-label="Parts">
          {parts.slice(0, 60).map(({ name, personIds }) => (
            <li key={name}>
              <strong>{name}</strong>
              <span>{plural(personIds.length, "student")}</span>
            </li>
          ))}
        </ul>
        {isFollowing && <LateArrivals late={late} setLate={setLate} />}
        <p className={base.soft}>
          The first part stays the group that it is. Whatever is for the group will be for all parts, with the same
          dates: nobody gains or loses anything.
        </p>
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={parts.length < 2}>
            Draft {plural(parts.length, "group")}
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}

/** Into how many parts of even size. */
const EvenParts = ({ count, setCount }: { count: number; setCount(count: number): void }) => (
  <div className={base.bar}>
    into
    <span className={styles.narrow}>
      <NumberField label="Parts" value={count} least={2} most={50} onChange={setCount} />
    </span>
    parts
  </div>
);

/** In a layer that follows the sections: whether its rules tell late arrivals to their parts. */
const LateArrivals = ({ late, setLate }: { late: Late; setLate(late: Late): void }) => (
  <>
    <Views
      label="Late arrivals"
      value={late}
      onChange={setLate}
      options={[
        { value: "follow", label: "Late arrivals follow" },
        { value: "hold", label: "Hold the new parts as they are" },
      ]}
    />
    <p className={base.soft}>
      {late === "follow"
        ? "The layer gets a rule for each part: whoever comes later, or changes, lands in the part that fits."
        : "The layer's rules no longer move those of the new parts; whoever comes later lands in the first part."}
    </p>
  </>
);
