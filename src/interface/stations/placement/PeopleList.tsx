import { useMemo, useState } from "react";
import { type LayerCount, placementsIn } from "../../../core/placement/membership.ts";
import { fullName, homeEnrolment } from "../../../core/plan/lookup.ts";
import { Button } from "../../kit/Button.tsx";
import { Checkbox, Choice, TextField } from "../../kit/Fields.tsx";
import { RowCheck } from "../../kit/RowCheck.tsx";
import { Rows } from "../../kit/Rows.tsx";
import { Stripe } from "../../kit/Stripe.tsx";
import { holdsWords, plural, withTicks } from "../../kit/words.ts";
import { useKept, useStudents, useWorkbench } from "../../workbench/context.tsx";
import { CoordinatorOnly } from "../../workbench/may.tsx";
import { GroupName } from "../GroupName.tsx";
import base from "../station.module.css";
import { WithPeople } from "../WithPeople.tsx";
import styles from "./placement.module.css";
import type { Shown } from "./shown.ts";

interface ListProps {
  count: LayerCount;
  shown: Shown;
  showAll(): void;
  chosen: string | null;
  choose(personId: string): void;
  paste(): void;
}

/** A dense list: type to find, select, move. */
export function PeopleList({ count, shown, showAll, chosen, choose, paste }: ListProps) {
  const { store, plan, t } = useWorkbench();
  const students = useStudents();
  const [text, setText] = useKept("placement search", "");
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [last, setLast] = useState<number | null>(null);
  const { layer } = count;
  const groupsOf = useMemo(() => {
    const found = new Map<string, string[]>();
    for (const { group, personIds } of count.groups)
      for (const id of personIds) found.set(id, [...(found.get(id) ?? []), group.id]);
    return found;
  }, [count]);
  const people = useMemo(() => {
    const holds = holdsWords(text);
    return (shown.personIds ?? students).filter((personId) => {
      const person = plan.people[personId];
      if (!person) return false;
      const names = (groupsOf.get(personId) ?? []).map((id) => plan.groups[id]?.name);
      return holds(`${fullName(person)} ${person.sourcedId} ${names.join(" ")}`);
    });
  }, [shown, text, plan, students, groupsOf]);

  /** Shift selects the range from the last one pressed. */
  const press = (index: number, isSelected: boolean, range: boolean) => {
    const next = new Set(selected);
    const [from, to] = range && last !== null ? [Math.min(last, index), Math.max(last, index)] : [index, index];
    for (const personId of people.slice(from, to + 1)) {
      if (isSelected) next.add(personId);
      else next.delete(personId);
    }
    setSelected(next);
    setLast(index);
  };
  // Ticks stay while one searches for more people.
  const picked = students.filter((personId) => selected.has(personId));
  const seen = people.filter((personId) => selected.has(personId)).length;
  const done = (accepted: boolean) => accepted && setSelected(new Set());
  const inGroups = [...new Set(picked.flatMap((personId) => groupsOf.get(personId) ?? []))];
  const each = (make: (groupId: string, personIds: string[]) => Parameters<typeof store.draft>[0][number]) =>
    done(
      store.draft(
        inGroups.map((groupId) =>
          make(
            groupId,
            picked.filter((personId) => groupsOf.get(personId)?.includes(groupId)),
          ),
        ),
      ),
    );
  const lead = () => {
    const leads = inGroups.map((groupId) => {
      const those = picked.filter((personId) => groupsOf.get(personId)?.includes(groupId));
      return { groupId, personIds: [...new Set([...(plan.groups[groupId]?.leads ?? []), ...those])] };
    });
    done(store.draft([{ kind: "groups.leads", leads }]));
  };
  const heldHere = useMemo(() => {
    const rows = count.groups.flatMap(({ group }) => placementsIn(plan, group.id, t));
    return new Set(rows.flatMap(({ held, until, personId }) => (held && until === null ? [personId] : [])));
  }, [count, plan, t]);
  const isHeld = (personId: string) => heldHere.has(personId);
  const anyHeld = picked.some(isHeld);

  return (
    <section className={styles.people} aria-label="People">
      <div className={styles.find}>
        <TextField
          label="Find people"
          hideLabel
          placeholder="Find by name, id or group"
          value={text}
          onChange={setText}
        />
        {shown.personIds ? (
          <Button quiet onPress={showAll}>
            {shown.title}, {shown.personIds.length} ×
          </Button>
        ) : (
          <span className={base.soft}>{plural(people.length, "student")}</span>
        )}
        {count.groups.length > 0 && (
          <CoordinatorOnly>
            <Button quiet onPress={paste}>
              Paste a list
            </Button>
          </CoordinatorOnly>
        )}
      </div>
      <div className={styles.move} data-idle={picked.length === 0 || undefined}>
        <Checkbox
          aria-label="Select all shown"
          isSelected={seen > 0 && seen === people.length}
          isIndeterminate={picked.length > 0 && seen < people.length}
          onChange={(all) => setSelected(withTicks(selected, people, all))}
        >
          {picked.length === 0
            ? "Select people to move them"
            : `${picked.length} selected${seen < picked.length ? `, ${seen} of them shown` : ""}`}
        </Checkbox>
        {picked.length > 0 && (
          <>
            <Choice
              label="Move to"
              hideLabel
              placeholder={layer.rule === "any number" ? "Add to group" : "Move to group"}
              value={null}
              options={count.groups.map(({ group, personIds }) => ({
                value: group.id,
                label: group.name,
                picture: <Stripe stripe={group.stripe} isPrivate={layer.private} />,
                aside: group.max === null ? personIds.length : `${personIds.length} of ${group.max}`,
              }))}
              onChange={(groupId) => done(store.draft([{ kind: "placement.place", groupId, personIds: picked }]))}
            />
            <WithPeople quiet personIds={picked} onDone={() => setSelected(new Set())} />
            {inGroups.length > 0 && (
              <Button
                quiet
                onPress={() => each((groupId, personIds) => ({ kind: "placement.remove", groupId, personIds }))}
              >
                Remove
              </Button>
            )}
            {inGroups.length > 0 && (
              <CoordinatorOnly>
                <Button quiet onPress={lead}>
                  Lead
                </Button>
              </CoordinatorOnly>
            )}
            {layer.following && inGroups.length > 0 && (
              <Button
                quiet
                onPress={() =>
                  each((groupId, personIds) => ({
                    kind: "placement.hold",
                    groupId,
                    personIds,
                    held: !anyHeld,
                  }))
                }
              >
                {anyHeld ? "Release" : "Hold"}
              </Button>
            )}
          </>
        )}
      </div>
      <Rows count={people.length} className={styles.list} label="People of the course">
        {(index) => {
          const personId = people[index] as string;
          const person = plan.people[personId];
          const groups = (groupsOf.get(personId) ?? [])
            .map((id) => plan.groups[id])
            .filter((group) => group !== undefined);
          return (
            person && (
              <div className={base.line} data-chosen={chosen === personId || undefined}>
                <RowCheck
                  label={`Select ${fullName(person)}`}
                  isSelected={selected.has(personId)}
                  onChange={(isSelected, range) => press(index, isSelected, range)}
                />
                <button
                  type="button"
                  className={`${base.plainButton} ${styles.personName}`}
                  onClick={() => choose(personId)}
                >
                  {fullName(person)}
                </button>
                <span className={styles.section}>
                  {plan.sections[homeEnrolment(plan, personId, t)?.sectionId ?? ""]?.code ?? ""}
                </span>
                <span className={base.cut}>
                  {groups.length === 0 &&
                    (layer.rule === "exactly one" ? (
                      <span className={base.wrong}>unplaced</span>
                    ) : (
                      <span className={base.soft}>in no group</span>
                    ))}
                  {groups.map((group) => (
                    <span key={group.id} className={styles.inGroup}>
                      <GroupName group={group} />
                    </span>
                  ))}
                  {isHeld(personId) && <span className={base.soft}>held</span>}
                </span>
              </div>
            )
          );
        }}
      </Rows>
    </section>
  );
}
