/** On a group's card: who is in it and who leads it, the course as one of them sees it, and the items that are for it. */
import { useMemo } from "react";
import { groupFilter } from "../../../../core/gradebook/naming-groups.ts";
import { referencesToGroups } from "../../../../core/placement/groups/group-references.ts";
import { studentsOf } from "../../../../core/placement/membership.ts";
import { compareNames, fullName } from "../../../../core/plan/lookup.ts";
import type { Group, Person } from "../../../../core/plan/types.ts";
import { Button } from "../../../kit/Button.tsx";
import { Few } from "../../../kit/Few.tsx";
import { useSelected, useWorkbench } from "../../../workbench/context.tsx";
import { CoordinatorOnly } from "../../../workbench/may.tsx";
import base from "../../station.module.css";
import styles from "../placement.module.css";

export function GroupMembers({ group }: { group: Group }) {
  const { store, plan, t } = useWorkbench();
  const [, selectPerson] = useSelected("person");
  const members = useMemo(
    () =>
      studentsOf(plan, group.id, t)
        .map((id) => plan.people[id] as Person)
        .sort(compareNames),
    [plan, group.id, t],
  );
  const [first] = members;
  if (!first) return null;
  const toGradebook = () => {
    store.setPlace("gradebook.filter", groupFilter(group.name));
    store.go("gradebook");
  };
  const toggled = (id: string) =>
    group.leads.includes(id) ? group.leads.filter((one) => one !== id) : [...group.leads, id];
  return (
    <>
      <h4 className={styles.whyHead}>Members</h4>
      <p>
        <a href={`/look/${store.courseId}/${first.id}?draft=1&of=group ${group.id}`} target="_blank" rel="noreferrer">
          Look as a member
        </a>{" "}
        <Button quiet onPress={toGradebook}>
          Their gradebook
        </Button>
      </p>
      <ul className={styles.members}>
        <Few of={members}>
          {(one) => (
            <li key={one.id}>
              <button type="button" className={base.plainButton} onClick={() => selectPerson(one.id)}>
                {fullName(one)}
              </button>
              {group.leads.includes(one.id) && <strong>leads</strong>}
              <CoordinatorOnly>
                <Button
                  quiet
                  aria-label={`${group.leads.includes(one.id) ? "No longer led by" : "Led by"} ${fullName(one)}`}
                  onPress={() =>
                    store.draft([{ kind: "groups.leads", leads: [{ groupId: group.id, personIds: toggled(one.id) }] }])
                  }
                >
                  {group.leads.includes(one.id) ? "No longer" : "Lead"}
                </Button>
              </CoordinatorOnly>
            </li>
          )}
        </Few>
      </ul>
    </>
  );
}

/** What is for the group by name; pressed, it is shown where its audience is set. */
export function GroupItems({ group }: { group: Group }) {
  const { store, plan } = useWorkbench();
  const items = referencesToGroups(plan, [group.id]).items.filter(({ how }) => how.includes("for"));
  if (items.length === 0) return null;
  return (
    <>
      <h4 className={styles.whyHead}>For it</h4>
      <ul className={styles.members}>
        <Few of={items}>
          {({ id, title }) => (
            <li key={id}>
              <Button quiet onPress={() => store.go("reach", { kind: "item", id })}>
                {title}
              </Button>
              <span className={base.soft}>{plan.items[id]?.kind}</span>
            </li>
          )}
        </Few>
      </ul>
    </>
  );
}
