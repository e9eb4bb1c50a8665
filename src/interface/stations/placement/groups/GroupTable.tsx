import { extent } from "d3-array";
import { useMemo, useState } from "react";
import { v7 } from "uuid";
import { numberIn } from "../../../../core/placement/forming/input.ts";
import { aimedCounts } from "../../../../core/placement/groups/group-references.ts";
import { freeName } from "../../../../core/placement/groups/parts.ts";
import type { LayerCount } from "../../../../core/placement/membership.ts";
import { compareText, fullName, lookup } from "../../../../core/plan/lookup.ts";
import type { NamedSet, Plan } from "../../../../core/plan/types.ts";
import { Button } from "../../../kit/Button.tsx";
import { Checkbox, Choice } from "../../../kit/Fields.tsx";
import { RowCheck } from "../../../kit/RowCheck.tsx";
import { Rows } from "../../../kit/Rows.tsx";
import { Spread } from "../../../kit/Spread.tsx";
import { Stripe } from "../../../kit/Stripe.tsx";
import { plural } from "../../../kit/words.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import { CoordinatorOnly } from "../../../workbench/may.tsx";
import base from "../../station.module.css";
import { WriteTo } from "../../WithPeople.tsx";
import { LeadsChoice } from "../LeadsChoice.tsx";
import styles from "./groups.module.css";
import { PageDialog } from "./PageDialog.tsx";
import { RenameDialog } from "./RenameDialog.tsx";
import { SetDialog } from "./SetDialog.tsx";
import { SplitDialog } from "./SplitDialog.tsx";

interface TableProps {
  count: LayerCount;
  chosen: string | null;
  choose(groupId: string): void;
}

/** The groups of a layer as a list: how large each is, what is aimed at it, and what can be done with several. */
export function GroupTable({ count, chosen, choose }: TableProps) {
  const { store, plan } = useWorkbench();
  const { layer, groups } = count;
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set());
  const [edited, setEdited] = useState<NamedSet | string[] | null>(null);
  const sets = Object.values(plan.sets).sort((a, b) => compareText(a.name, b.name));
  const [dialog, setDialog] = useState<"rename" | "split" | "page" | null>(null);
  const picked = groups.filter(({ group }) => marked.has(group.id)).map(({ group }) => group.id);
  const away = (lookup(plan).allGroupsOfLayer.get(layer.id) ?? []).filter(({ archivedAt }) => archivedAt !== null);
  const aimed = useMemo(() => aimedCounts(plan), [plan]);
  const columns = useMemo(() => numberColumns(plan, groups), [plan, groups]);
  const [wanted, setWanted] = useState<string | null>(null);
  const column = columns.find(({ name }) => name === wanted) ?? columns[0];
  const mark = (id: string, isMarked: boolean) => {
    const next = new Set(marked);
    if (isMarked) next.add(id);
    else next.delete(id);
    setMarked(next);
  };
  const done = (accepted: boolean) => accepted && setMarked(new Set());
  const [one] = picked;
  const shift = (step: -1 | 1) => {
    const order = groups.map(({ group }) => group.id);
    const moving = step < 0 ? picked : [...picked].reverse();
    for (const id of moving) {
      const at = order.indexOf(id);
      const other = order[at + step];
      if (other === undefined || picked.includes(other)) continue;
      order[at] = other;
      order[at + step] = id;
    }
    store.draft([{ kind: "group.reorder", layerId: layer.id, groupIds: order }]);
  };
  return (
    <section className={styles.groups} aria-label="Groups of the layer">
      <CoordinatorOnly>
        {" "}
        <div className={styles.tools} data-idle={picked.length === 0 || undefined}>
          <Checkbox
            aria-label="Select all groups"
            isSelected={picked.length > 0 && picked.length === groups.length}
            isIndeterminate={picked.length > 0 && picked.length < groups.length}
            onChange={(all) => setMarked(new Set(all ? groups.map(({ group }) => group.id) : []))}
          >
            {picked.length === 0 ? "Select groups to rework them" : `${picked.length} selected`}
          </Checkbox>
          {picked.length > 0 && (
            <>
              <Button quiet onPress={() => setDialog("rename")}>
                Rename
              </Button>
              <Button
                quiet
                isDisabled={picked.length < 2}
                onPress={() => done(store.draft([{ kind: "group.merge", groupIds: picked }]))}
              >
                Merge
              </Button>
              <Button quiet isDisabled={picked.length !== 1} onPress={() => setDialog("split")}>
                Split
              </Button>
              <Button
                quiet
                isDisabled={picked.length !== 1}
                onPress={() => {
                  const name = freeName(
                    plan.groups[one ?? ""]?.name ?? "",
                    groups.map(({ group }) => group.name),
                  );
                  const kind = "group.duplicate";
                  done(store.draft([{ kind, groupId: one ?? "", newGroupId: v7(), name, withPeople: false }]));
                }}
              >
                Duplicate
              </Button>
              <Button quiet onPress={() => setEdited(picked)}>
                As a set
              </Button>
              <WriteTo quiet to={picked.map((id) => ({ kind: "group", id }))} says="Write to them" />
              <LeadsChoice layer={layer} groupIds={picked} />
              {!layer.private && (
                <Button quiet onPress={() => setDialog("page")}>
                  {picked.length === 1 ? "Page" : "Pages"}
                </Button>
              )}
              <Button quiet aria-label="Move up" onPress={() => shift(-1)}>
                ↑
              </Button>
              <Button quiet aria-label="Move down" onPress={() => shift(1)}>
                ↓
              </Button>
              <Button quiet onPress={() => done(store.draft([{ kind: "group.archive", groupIds: picked }]))}>
                Archive
              </Button>
              <Button
                quiet
                onPress={() => done(store.draft(picked.map((groupId) => ({ kind: "group.remove" as const, groupId }))))}
              >
                Delete
              </Button>
            </>
          )}
        </div>
      </CoordinatorOnly>{" "}
      <div className={styles.titles}>
        <span className={styles.name}>Group</span>
        <span className={styles.figure}>Students</span>
        <span className={styles.figure}>Held</span>
        <span className={styles.figure}>Aimed at</span>
        {column && (
          <span className={styles.spread}>
            <Choice
              label="Spread of"
              hideLabel
              value={column.name}
              onChange={setWanted}
              options={columns.map(({ name }) => ({ value: name, label: name }))}
            />
          </span>
        )}
        <span className={styles.rest}>Students read, leads</span>
      </div>
      <Rows count={groups.length} className={styles.list} label="Groups">
        {(index) => {
          const { group, personIds, held } = groups[index] as LayerCount["groups"][number];
          const off =
            (group.max !== null && personIds.length > group.max) ||
            (group.min !== null && personIds.length < group.min);
          return (
            <div className={base.line} data-chosen={chosen === group.id || undefined}>
              <RowCheck
                label={`Select ${group.name}`}
                isSelected={marked.has(group.id)}
                onChange={(isMarked) => mark(group.id, isMarked)}
              />
              <span className={styles.name}>
                <Stripe stripe={group.stripe} isPrivate={layer.private} />
                <button type="button" className={`${base.plainButton} ${base.cut}`} onClick={() => choose(group.id)}>
                  {group.name}
                </button>
              </span>
              <span className={`${styles.figure} ${off ? base.wrong : ""}`}>
                {personIds.length}
                {(group.min !== null || group.max !== null) && ` (${group.min ?? 0} to ${group.max ?? "any"})`}
              </span>
              <span className={styles.figure}>{held || ""}</span>
              <span className={styles.figure}>{aimed.get(group.id) || ""}</span>
              {column && (
                <span className={styles.spread}>
                  <Spread values={column.valuesOf(personIds)} domain={column.domain} />
                </span>
              )}
              <span className={`${styles.rest} ${base.cut} ${base.soft}`}>
                {layer.private ? "nothing" : group.label}
                {group.leads.length > 0 &&
                  `; ${group.leads
                    .map((id) => plan.people[id])
                    .map((who) => (who ? fullName(who) : ""))
                    .join(", ")}`}
              </span>
            </div>
          );
        }}
      </Rows>
      {sets.length > 0 && (
        <div className={base.bar} role="group" aria-label="Named sets">
          <span className={base.soft}>Sets:</span>
          {sets.map((set) => (
            <Button key={set.id} quiet onPress={() => setEdited(set)}>
              {set.name}, {set.groupIds.length}
            </Button>
          ))}
        </div>
      )}
      {away.length > 0 && (
        <details className={styles.away}>
          <summary>{plural(away.length, "group")} archived</summary>
          <ul>
            {away.map((group) => (
              <li key={group.id}>
                {group.name}
                <Button quiet onPress={() => store.draft([{ kind: "group.restore", groupIds: [group.id] }])}>
                  Bring back
                </Button>
              </li>
            ))}
          </ul>
        </details>
      )}
      {edited && <SetDialog set={edited} onClose={() => setEdited(null)} />}
      {dialog === "rename" && <RenameDialog layer={layer} groupIds={picked} onClose={() => setDialog(null)} />}
      {dialog === "page" && <PageDialog groupIds={picked} onClose={() => setDialog(null)} />}
      {dialog === "split" && one !== undefined && (
        <SplitDialog groupId={one} onClose={() => setDialog(null)} onDone={() => setMarked(new Set())} />
      )}
    </section>
  );
}

/** Attributes that are numbers for most students, with the range of all. */
function numberColumns(plan: Plan, groups: LayerCount["groups"]) {
  const everyone = groups.flatMap(({ personIds }) => personIds);
  const names = new Set(everyone.flatMap((id) => Object.keys(plan.people[id]?.attributes ?? {})));
  const found = [...names].flatMap((name) => {
    const valuesOf = (ids: readonly string[]) =>
      ids.map((id) => numberIn(plan.people[id]?.attributes[name] ?? "")).filter((value) => value !== null);
    const all = valuesOf(everyone);
    const [least = 0, most = 0] = extent(all);
    const tells = all.length * 2 > everyone.length && most > least;
    const kinds = new Set(all).size;
    return tells ? [{ name, valuesOf, kinds, domain: [least, most] as [number, number] }] : [];
  });
  // A score says more than a year does.
  return found.sort((a, b) => b.kinds - a.kinds);
}
