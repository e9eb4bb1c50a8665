import { useEffect, useMemo, useState } from "react";
import { lookup, outlineOrder } from "../../../core/plan/lookup.ts";
import { emptyAudiences, type Finding, leaks } from "../../../core/reach/audit.ts";
import { useBench, Why } from "../../bench/context.tsx";
import { LayerChoice } from "../../bench/LayerChoice.tsx";
import { Button } from "../../kit/Button.tsx";
import { Checkbox } from "../../kit/Fields.tsx";
import base from "../station.module.css";
import { CrossingGrid } from "./CrossingGrid.tsx";
import { CrossingMark } from "./CrossingMark.tsx";
import { CrossingWhy, ItemWhy } from "./CrossingWhy.tsx";
import { type Crossing, crossing, membersOfGroup } from "./crossings.ts";
import { ItemDialog } from "./ItemDialog.tsx";
import styles from "./reach.module.css";

export function ReachStation() {
  const { state, plan, reach } = useBench();
  const { layers, groupsOfLayer } = lookup(plan);
  const [layerId, setLayerId] = useState<string | null>(null);
  const [problemsOnly, setProblemsOnly] = useState(false);
  const [differsOnly, setDiffersOnly] = useState(false);
  const [at, setAt] = useState<{ itemId: string; groupId: string | null } | null>(null);
  const [dialog, setDialog] = useState<{ itemId: string | null; parentId: string | null } | null>(null);
  const layer = layers.find(({ id }) => id === layerId) ?? layers[0];
  const groups = useMemo(() => (layer ? (groupsOfLayer.get(layer.id) ?? []) : []), [layer, groupsOfLayer]);
  const members = useMemo(() => groups.map((group) => membersOfGroup(reach, group)), [groups, reach]);
  const found = useMemo(() => [...leaks(reach), ...emptyAudiences(reach)], [reach]);
  const wrong = useMemo(() => new Set(found.map(({ item }) => item.id)), [found]);

  const { target } = state;
  useEffect(() => {
    if (target?.kind === "item") setAt({ itemId: target.id, groupId: null });
  }, [target]);

  const rows = useMemo(() => {
    const all = outlineOrder(plan).map(({ item, depth }) => ({
      item,
      depth,
      crossings: members.map((bits) => crossing(reach, item, bits)),
    }));
    const differs = (crossings: Crossing[]) =>
      new Set(crossings.filter(({ members: size }) => size > 0).map(({ thread }) => thread)).size > 1;
    return all.filter(
      ({ item, crossings }) => (!problemsOnly || wrong.has(item.id)) && (!differsOnly || differs(crossings)),
    );
  }, [plan, reach, members, problemsOnly, differsOnly, wrong]);

  const selected = at ? plan.items[at.itemId] : undefined;
  const selectedGroup = groups.find(({ id }) => id === at?.groupId);
  const parentOf = selected?.kind === "folder" ? selected.id : (selected?.parentId ?? null);
  return (
    <div className={base.station}>
      <div className={base.head}>
        <h2>Reach</h2>
        <span className={base.figures}>
          <span>
            <strong>{Object.keys(plan.items).length}</strong> items
          </span>
          <span className={wrong.size > 0 ? base.wrong : ""}>
            <strong>{found.filter(({ kind }) => kind === "leak").length}</strong>{" "}
            {found.filter(({ kind }) => kind === "leak").length === 1 ? "leak" : "leaks"}
          </span>
        </span>
        <span className={base.push} />
        <Checkbox isSelected={problemsOnly} onChange={setProblemsOnly}>
          Only problems
        </Checkbox>
        <Checkbox isSelected={differsOnly} onChange={setDiffersOnly}>
          Only what differs
        </Checkbox>
        <LayerChoice layer={layer} choose={setLayerId} />
        <Button strong onPress={() => setDialog({ itemId: null, parentId: parentOf })}>
          New item
        </Button>
      </div>
      {Object.keys(plan.items).length === 0 ? (
        <div className={base.empty}>
          <h3>The outline is empty</h3>
          <p className={base.soft}>
            Make a folder for a group, and put in it what only they should see. Every crossing of an item with a group
            then shows who can open what.
          </p>
          <Button strong onPress={() => setDialog({ itemId: null, parentId: null })}>
            New item
          </Button>
        </div>
      ) : (
        <CrossingGrid
          rows={rows}
          groups={groups}
          at={at}
          setAt={setAt}
          wrong={wrong}
          isPrivate={layer?.private ?? false}
          edit={(itemId) => setDialog({ itemId, parentId: null })}
        />
      )}
      <Legend />
      {dialog && (
        <ItemDialog
          itemId={dialog.itemId}
          parentId={dialog.parentId}
          onClose={() => setDialog(null)}
          onMade={(itemId) => setAt({ itemId, groupId: null })}
        />
      )}
      <Why>
        {selected && selectedGroup ? (
          <CrossingWhy
            item={selected}
            group={selectedGroup}
            edit={() => setDialog({ itemId: selected.id, parentId: null })}
          />
        ) : selected ? (
          <ItemWhy
            item={selected}
            edit={() => setDialog({ itemId: selected.id, parentId: null })}
            add={() => setDialog({ itemId: null, parentId: parentOf })}
          />
        ) : (
          <Indexes found={found} choose={(itemId) => setAt({ itemId, groupId: null })} />
        )}
      </Why>
    </div>
  );
}

interface IndexesProps {
  found: Finding[];
  choose(itemId: string): void;
}

/** The course-wide indexes, and what was found wrong. */
function Indexes({ found, choose }: IndexesProps) {
  const { store, plan } = useBench();
  const { indexes } = plan.course;
  const names = {
    discussions: "All discussions",
    files: "All files",
    calendar: "Calendar",
    work: "List of work",
  } as const;
  return (
    <section>
      <h3 className={base.whyTitle}>Course-wide indexes</h3>
      <p className={base.soft}>
        An index that is on is an entrance to every item of its kind, also to those in a folder that is only a doorway.
      </p>
      {(Object.keys(names) as (keyof typeof names)[]).map((key) => (
        <div key={key}>
          <Checkbox
            isSelected={indexes[key]}
            onChange={(on) => store.draft([{ kind: "course.indexes", indexes: { ...indexes, [key]: on } }])}
          >
            {names[key]}
          </Checkbox>
        </div>
      ))}
      {found.length > 0 && <h3 className={base.whyTitle}>Found</h3>}
      {found.map(({ item, says, kind }) => (
        <p key={kind + item.id} style={{ marginBottom: 6 }}>
          <button type="button" className={`${base.plainButton} ${base.wrong}`} onClick={() => choose(item.id)}>
            {says}
          </button>
        </p>
      ))}
    </section>
  );
}

function Legend() {
  const kinds: [Crossing["thread"], string][] = [
    ["over", "open"],
    ["half over", "later, on a condition, or for some"],
    ["under", "hidden"],
    ["knotted", "leak"],
  ];
  return (
    <div className={styles.legend} aria-hidden="true">
      {kinds.map(([thread, word]) => (
        <span key={thread}>
          <CrossingMark crossing={{ thread, members: 1, open: 0, later: 0, leaks: 0 }} colour="var(--ink-soft)" />
          {word}
        </span>
      ))}
    </div>
  );
}
