import { useState } from "react";
import { filtersNaming } from "../../../../core/gradebook/naming-groups.ts";
import { type GroupReferences, referencesToGroups } from "../../../../core/placement/groups/group-references.ts";
import { sayParts } from "../../../../core/placement/groups/page.ts";
import { studentsOf } from "../../../../core/placement/membership.ts";
import { fullName } from "../../../../core/plan/lookup.ts";
import { sayNames } from "../../../../core/text/names.ts";
import { sayPattern } from "../../../../core/timing/meetings.ts";
import { Button } from "../../../kit/Button.tsx";
import { plural } from "../../../kit/words.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import { CoordinatorOnly } from "../../../workbench/may.tsx";
import { GroupName } from "../../GroupName.tsx";
import { useFilters } from "../../gradebook/filters/useFilters.ts";
import { StaffNotes } from "../../StaffNotes.tsx";
import base from "../../station.module.css";
import { WriteTo } from "../../WithPeople.tsx";
import { LayerEdit } from "../dialogs.tsx";
import styles from "../placement.module.css";
import { GroupDialog } from "./GroupDialog.tsx";
import { GroupItems, GroupMembers } from "./GroupMembers.tsx";
import { PageDialog } from "./PageDialog.tsx";

const titles = (list: { title: string }[]) =>
  list
    .slice(0, 6)
    .map(({ title }) => title)
    .join(", ") + (list.length > 6 ? ` and ${list.length - 6} more` : "");

/** What is aimed at a group, by name, a line a kind. */
function sayAims({ items, dates, allowances, rules, sets }: GroupReferences, filters: string[]): string[] {
  const how = (kind: GroupReferences["items"][number]["how"][number]) =>
    items.filter((item) => item.how.includes(kind));
  const lines: [string, { title: string }[]][] = [
    ["for it", how("for")],
    ["not for it", how("not for")],
    ["asking for it in a condition", how("condition")],
    ["with dates of its own", dates],
  ];
  return [
    ...lines.flatMap(([says, list]) =>
      list.length > 0 ? [`${plural(list.length, "item")} ${says}: ${titles(list)}`] : [],
    ),
    ...(allowances > 0 ? [plural(allowances, "allowance")] : []),
    ...(rules > 0 ? [`${plural(rules, "placement rule")} that fills it`] : []),
    ...(sets.length > 0
      ? [`${plural(sets.length, "set")} that ${sets.length === 1 ? "holds" : "hold"} it: ${sets.join(", ")}`]
      : []),
    ...(filters.length > 0 ? [`${plural(filters.length, "filter")}: ${filters.join(", ")}`] : []),
  ];
}

/** A group: what it is, who leads it, what is aimed at it, and what reworking it does to that. */
export function GroupWhy({ groupId }: { groupId: string }) {
  const { plan, t } = useWorkbench();
  const { saved } = useFilters();
  const [editing, setEditing] = useState<"group" | "page" | "layer" | null>(null);
  const group = plan.groups[groupId];
  if (!group) return null;
  const layer = plan.layers[group.layerId];
  const aims = referencesToGroups(plan, [groupId]);
  const said = sayAims(aims, filtersNaming(plan, [groupId], saved));
  const alone = aims.items.filter(({ id, how }) => {
    const to = plan.items[id]?.audience.to;
    return how.includes("for") && Array.isArray(to) && to.length === 1;
  });
  const folder = Object.values(plan.items).find(({ pageOf }) => pageOf === groupId);
  const leads = group.leads.map((id) => plan.people[id]).filter((person) => person !== undefined);
  return (
    <section>
      <h3 className={base.whyTitle}>
        <GroupName group={group} />
      </h3>
      <p>
        {plural(studentsOf(plan, groupId, t).length, "student")} of {layer?.name}
        {group.max !== null && `, ${group.max} at most`}
        {group.min !== null && `, ${group.min} at least`}.{" "}
        {layer?.private ? "Students never see it." : `Students read “${group.label}”.`}
      </p>
      {group.page && <p style={{ marginTop: 6 }}>Its page has {sayParts(group.page)}.</p>}
      {layer?.private && (
        <>
          <p style={{ marginTop: 6 }}>
            {folder
              ? `Its page is the folder ${folder.title}: its members find it there and learn of no group.`
              : "It has no page: its members would learn from one that the group exists. A folder for the group alone, with a title that tells nothing, does what a page does."}
          </p>
          <CoordinatorOnly>
            <Button quiet onPress={() => setEditing("layer")}>
              Let students see the layer
            </Button>
          </CoordinatorOnly>
        </>
      )}
      {group.description !== "" && <p style={{ marginTop: 6 }}>{group.description}</p>}
      {group.pattern.length > 0 && <p style={{ marginTop: 6 }}>It meets {sayPattern(group.pattern)}.</p>}
      {leads.length > 0 && <p style={{ marginTop: 6 }}>Led by {sayNames(leads.map(fullName))}.</p>}
      <p style={{ margin: "10px 0" }}>
        <CoordinatorOnly>
          {" "}
          <Button onPress={() => setEditing("group")}>Change the group</Button>{" "}
          {!layer?.private && (
            <Button quiet onPress={() => setEditing("page")}>
              {group.page ? "Change its page" : "Give it a page"}
            </Button>
          )}{" "}
        </CoordinatorOnly>{" "}
        <WriteTo quiet to={[{ kind: "group", id: groupId }]} says="Write to the group" />
      </p>
      <GroupMembers key={groupId} group={group} />
      <GroupItems group={group} />
      <h4 className={styles.whyHead}>Aimed at it</h4>
      {said.length === 0 ? (
        <p>Nothing: merging, splitting, archiving or deleting it changes no item, date or filter.</p>
      ) : (
        <>
          <ul className={styles.rules}>
            {said.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
          <p className={base.soft}>
            Merge it into another, and all of this becomes that one's, whose people reach it too. Split it, and all
            parts keep it. Archive it, and{" "}
            {alone.length > 0 ? `${titles(alone)} would be for nobody` : "nobody else loses anything"}.
            {aims.threads.length > 0 && " Merged or archived, its threads stay as they are, and nobody writes in them."}{" "}
            It can be deleted once no item and no date names it.
          </p>
        </>
      )}
      <StaffNotes kind="group" id={groupId} />
      {editing === "group" && <GroupDialog group={group} onClose={() => setEditing(null)} />}
      {editing === "layer" && layer && <LayerEdit layer={layer} onClose={() => setEditing(null)} />}
      {editing === "page" && <PageDialog groupIds={[groupId]} onClose={() => setEditing(null)} />}
    </section>
  );
}
