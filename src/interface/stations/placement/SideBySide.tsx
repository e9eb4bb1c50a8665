import { useMemo, useState } from "react";
import type { LayerCount } from "../../../core/placement/membership.ts";
import { fullName } from "../../../core/plan/lookup.ts";
import { Choice, TextField } from "../../kit/Fields.tsx";
import { Rows } from "../../kit/Rows.tsx";
import { Scrollable } from "../../kit/Scrollable.tsx";
import { holdsWords, plural } from "../../kit/words.ts";
import { useStudents, useWorkbench } from "../../workbench/context.tsx";
import { GroupName } from "../GroupName.tsx";
import base from "../station.module.css";
import { WithPeople } from "../WithPeople.tsx";
import styles from "./sidebyside.module.css";

interface SideProps {
  counts: LayerCount[];
  chosen: string | null;
  choose(personId: string): void;
}

/** Every layer beside the others: each student's groups in all of them, filtered by any. */
export function SideBySide({ counts, chosen, choose }: SideProps) {
  const { plan } = useWorkbench();
  const students = useStudents();
  const [text, setText] = useState("");
  /** Of a layer: a group, or `none` for who is in none of its groups. */
  const [wanted, setWanted] = useState<Record<string, string>>({});
  const groupsOf = useMemo(
    () =>
      counts.map(({ groups }) => {
        const found = new Map<string, string[]>();
        for (const { group, personIds } of groups)
          for (const id of personIds) found.set(id, [...(found.get(id) ?? []), group.id]);
        return found;
      }),
    [counts],
  );
  const people = useMemo(() => {
    const holds = holdsWords(text);
    return students.filter((personId) => {
      const person = plan.people[personId];
      if (!person) return false;
      const fits = counts.every(({ layer }, at) => {
        const group = wanted[layer.id];
        const own = groupsOf[at]?.get(personId) ?? [];
        return group === undefined || (group === "none" ? own.length === 0 : own.includes(group));
      });
      if (!fits || text.trim() === "") return fits;
      const names = groupsOf.flatMap((found) => (found.get(personId) ?? []).map((id) => plan.groups[id]?.name));
      return holds(`${fullName(person)} ${person.sourcedId} ${names.join(" ")}`);
    });
  }, [counts, groupsOf, plan, students, text, wanted]);
  const choice = (layerId: string, value: string) => {
    const { [layerId]: _before, ...others } = wanted;
    setWanted(value === "any" ? others : { ...others, [layerId]: value });
  };
  return (
    <section className={styles.side} aria-label="Layers side by side">
      <div className={styles.find}>
        <TextField
          label="Find people"
          hideLabel
          placeholder="Find by name, id or any group"
          value={text}
          onChange={setText}
        />
        <span className={base.soft}>{plural(people.length, "student")}</span>
        <WithPeople quiet personIds={people} />
      </div>
      <Scrollable className={styles.scroll} role="group" aria-label="Groups of each student">
        <div className={styles.table} style={{ minWidth: 190 + counts.length * 150 }}>
          <div className={styles.heads}>
            <span className={styles.name} />
            {counts.map((count) => (
              <div key={count.layer.id} className={styles.cell}>
                <strong className={base.cut}>{count.layer.name}</strong>
                <span className={base.soft}>
                  {count.placed} placed,{" "}
                  <span className={count.layer.rule === "exactly one" && count.unplaced.length > 0 ? base.wrong : ""}>
                    {count.unplaced.length} not
                  </span>
                  {count.inTwo.length > 0 && <span className={base.wrong}>, {count.inTwo.length} in two</span>}
                </span>
                <Choice
                  label={`Only in ${count.layer.name}`}
                  hideLabel
                  value={wanted[count.layer.id] ?? "any"}
                  onChange={(value) => choice(count.layer.id, value)}
                  options={[
                    { value: "any", label: "all" },
                    { value: "none", label: "in no group", aside: count.unplaced.length },
                    ...count.groups.map(({ group, personIds }) => ({
                      value: group.id,
                      label: group.name,
                      aside: personIds.length,
                    })),
                  ]}
                />
              </div>
            ))}
          </div>
          <Rows count={people.length} className={styles.rows as string} label="Students">
            {(index) => {
              const personId = people[index] as string;
              const person = plan.people[personId];
              return (
                person && (
                  <div className={styles.line} data-chosen={chosen === personId || undefined}>
                    <button
                      type="button"
                      className={`${base.plainButton} ${styles.name} ${base.cut}`}
                      onClick={() => choose(personId)}
                    >
                      {fullName(person)}
                    </button>
                    {counts.map(({ layer }, at) => (
                      <span key={layer.id} className={`${styles.cell} ${base.cut}`}>
                        {(groupsOf[at]?.get(personId) ?? []).map((id) => {
                          const group = plan.groups[id];
                          return (
                            group && (
                              <span key={id}>
                                <GroupName group={group} />{" "}
                              </span>
                            )
                          );
                        })}
                      </span>
                    ))}
                  </div>
                )
              );
            }}
          </Rows>
        </div>
      </Scrollable>
    </section>
  );
}
