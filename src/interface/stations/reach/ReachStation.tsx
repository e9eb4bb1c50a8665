import { useCallback, useEffect, useMemo, useState } from "react";
import { compareText, lookup } from "../../../core/plan/lookup.ts";
import { openFindings } from "../../../core/reach/audit/audit.ts";
import { type FindingKind, isTiming, kindWords } from "../../../core/reach/audit/finding.ts";
import { Button } from "../../kit/Button.tsx";
import { Choice } from "../../kit/Fields.tsx";
import { Views } from "../../kit/Views.tsx";
import { withTicks } from "../../kit/words.ts";
import { CoordinatorOnly } from "../../workbench/CoordinatorOnly.tsx";
import { useActions, useKept, usePlace, useWorkbench, Why } from "../../workbench/context.tsx";
import { type ViewOf, views } from "../../workbench/views.ts";
import base from "../station.module.css";
import { AuditView } from "./audit/AuditView.tsx";
import { AuditWords, FindingWhy } from "./audit/FindingWhy.tsx";
import { Lattice } from "./audit/Lattice.tsx";
import { CartridgeDialog } from "./CartridgeDialog.tsx";
import { CourseWhy } from "./CourseWhy.tsx";
import { CrossingGrid } from "./CrossingGrid.tsx";
import { CrossingMark } from "./CrossingMark.tsx";
import { CrossingWhy } from "./CrossingWhy.tsx";
import type { Crossing } from "./crossings.ts";
import type { At } from "./grid.ts";
import { ItemWhy } from "./ItemWhy.tsx";
import { ItemCard } from "./items/ItemCard.tsx";
import { ItemTools } from "./items/ItemTools.tsx";
import { isFilledIn, type Written } from "./items/useItemForm.ts";
import { LookDialog } from "./LookDialog.tsx";
import styles from "./reach.module.css";
import { type Show, useOutline, useStranded } from "./useOutline.ts";
import { useReachPlace } from "./useReachPlace.ts";

const shows: { value: Show; label: string }[] = [
  { value: "all", label: "every item" },
  { value: "differs", label: "only what differs" },
  { value: "week", label: "only what changes this week" },
  { value: "problems", label: "only problems" },
];
const nothing: ReadonlySet<string> = new Set();

const isOfReach = (kind: FindingKind) => !isTiming(kind);

export function ReachStation() {
  const { store, state, plan, audit } = useWorkbench();
  const { layers } = lookup(plan);
  const [view, setView] = usePlace<ViewOf<"reach">>("reach.view", "crossings");
  const { shown, columns, setColumnView, at, setAt } = useReachPlace();
  const [show, setShow] = useState<Show>("all");
  const [folded, setFolded] = useState(nothing);
  const [selected, setSelected] = useState(nothing);
  const [findingKey, setFindingKey] = useState<string | null>(null);
  const [dialog, setDialog] = useState<"look" | "cartridge" | null>(null);
  /** What is being written stays so while one is at another station. */
  const [written, setWritten] = useKept<Written | null>("reach.written", null);
  const [shownItem, setShownItem] = useState<string | null>(null);
  const stranded = useStranded();
  const rows = useOutline(columns, show, folded, stranded);
  const open = openFindings(audit.findings);
  const flags = useMemo(() => {
    const found = new Map<string, string>();
    for (const one of openFindings(audit.findings))
      if (one.itemId && !one.asks && one.kind !== "sightline" && !found.has(one.itemId))
        found.set(one.itemId, kindWords[one.kind].name.toLowerCase());
    return found;
  }, [audit.findings]);

  useActions({
    "new item": () => setWritten({ itemId: null, parentId: null }),
    look: () => setDialog("look"),
    outline: () => setDialog("cartridge"),
  });
  const { target } = state;
  useEffect(() => {
    if (target?.kind !== "item") return;
    setView("crossings");
    setAt({ itemId: target.id, columnId: null });
  }, [target, setView, setAt]);

  const chosenItems = useMemo(
    () => [...selected].map((id) => plan.items[id]).filter((item) => item !== undefined),
    [selected, plan.items],
  );
  const select = useCallback((itemIds: string[], isSelected: boolean) => {
    setSelected((before) => withTicks(before, itemIds, isSelected));
  }, []);
  const fold = useCallback((itemId: string, isFolded: boolean) => {
    setFolded((before) => {
      const next = new Set(before);
      isFolded ? next.add(itemId) : next.delete(itemId);
      return next;
    });
  }, []);
  const folders = Object.values(plan.items).filter(({ kind }) => kind === "folder");
  const item = at ? plan.items[at.itemId] : undefined;
  const column = columns.find(({ id }) => id === at?.columnId);
  const finding = audit.findings.find(({ key }) => key === findingKey);
  const parentOf = item?.kind === "folder" ? item.id : (item?.parentId ?? null);
  const itemCount = Object.keys(plan.items).length;
  const edit = (itemId: string) => setWritten({ itemId, parentId: null });
  /** Another crossing, unless something is being written that would be lost. */
  const choose = (next: At | null) => {
    if (written && isFilledIn(store, written))
      return store.tell("wrong", "Draft what stands in the card, or leave it; then choose another.");
    setWritten(null);
    setAt(next);
  };
  const showFinding = (key: string) => {
    setFindingKey(key);
    setView("audit");
  };
  const sections = Object.values(plan.sections).sort((a, b) => compareText(a.code, b.code));
  const layerId =
    view === "lattice" ? (audit.sightlines?.layerId ?? null) : shown?.kind === "layer" ? shown.layerId : null;
  const isWithin =
    shown !== null &&
    (shown.block !== undefined || shown.kind === "students" || (shown.kind === "layer" && shown.scopeId !== undefined));
  return (
    <div className={base.station}>
      <div className={base.head}>
        <h2>Reach</h2>
        <Views label="View" value={view} onChange={setView} options={views.reach} />
        <span className={base.figures} aria-live="polite">
          <span>
            <strong>{itemCount}</strong> items
          </span>
          <span className={open.some(({ asks }) => !asks) ? base.wrong : ""}>
            {audit.isKnown ? (
              <>
                <strong>{open.length}</strong> {open.length === 1 ? "finding" : "findings"}
              </>
            ) : (
              "looking for findings"
            )}
          </span>
        </span>
        <span className={base.push} />
        <CoordinatorOnly>
          <Button onPress={() => setDialog("look")}>Look through</Button>
        </CoordinatorOnly>
        {view === "crossings" && (
          <Button strong onPress={() => setWritten({ itemId: null, parentId: parentOf })}>
            New item
          </Button>
        )}
        {view !== "crossings" && (
          <a
            className={styles.report}
            href={`/report/${plan.course.id}${audit.layerId ? `?layer=${audit.layerId}` : ""}`}
            target="_blank"
            rel="noreferrer"
          >
            Report
          </a>
        )}
      </div>
      {view !== "audit" && layers.length > 0 && (
        <div className={styles.bar}>
          <Choice
            label={view === "lattice" ? "Groups of" : "Columns"}
            hideLabel
            value={layerId ?? (shown?.kind === "sections" ? "sections" : null)}
            placeholder={shown?.kind === "students" ? `Students of ${shown.name}` : "Columns"}
            onChange={(value) => {
              if (view === "lattice") audit.setLayerId(value);
              else setColumnView(value === "sections" ? { kind: "sections" } : { kind: "layer", layerId: value });
            }}
            options={[
              ...layers
                .filter((layer) => view === "crossings" || !layer.private)
                .map(({ id, name }) => ({ value: id, label: name })),
              ...(view === "crossings" && sections.length > 0
                ? [{ value: "sections", label: "Registrar's sections" }]
                : []),
            ]}
          />
          {view === "crossings" && (
            <>
              <Choice label="Show" hideLabel value={show} onChange={setShow} options={shows} />
              {isWithin && (
                <Button
                  quiet
                  onPress={() =>
                    setColumnView(shown?.kind === "layer" ? { kind: "layer", layerId: shown.layerId } : null)
                  }
                >
                  All columns again
                </Button>
              )}
              {folders.length > 0 && show === "all" && (
                <Button
                  quiet
                  onPress={() => setFolded(folded.size > 0 ? nothing : new Set(folders.map(({ id }) => id)))}
                >
                  {folded.size > 0 ? "Unfold all" : "Fold all"}
                </Button>
              )}
              <CoordinatorOnly>
                <Button quiet aria-label="Outline in and out" onPress={() => setDialog("cartridge")}>
                  In and out
                </Button>
              </CoordinatorOnly>
              <Legend />
            </>
          )}
        </div>
      )}
      {view === "crossings" && chosenItems.length > 0 && (
        <ItemTools items={chosenItems} clear={() => setSelected(nothing)} />
      )}
      {view === "audit" && (
        <AuditView
          of={isOfReach}
          nothing="Nobody sees what is not meant for them, and nobody misses what is."
          chosen={findingKey}
          choose={setFindingKey}
        />
      )}
      {view === "lattice" && <Lattice choose={showFinding} />}
      {view === "crossings" &&
        (itemCount === 0 ? (
          <div className={base.empty}>
            <h3>The outline is empty</h3>
            <p className={base.soft}>
              Make a folder for a group, and put in it what only they should see; or take an outline in from an archive.
              Every crossing of an item with a group then shows who can open what.
            </p>
            <div className={base.bar}>
              <Button strong onPress={() => setWritten({ itemId: null, parentId: null })}>
                New item
              </Button>
              <Button onPress={() => setDialog("cartridge")}>Take an outline in</Button>
            </div>
          </div>
        ) : (
          <CrossingGrid
            rows={rows}
            columns={columns}
            at={written && shownItem ? { itemId: shownItem, columnId: null } : at}
            setAt={choose}
            selected={selected}
            select={select}
            folded={folded}
            fold={fold}
            stranded={stranded}
            flags={flags}
            inOrder={show === "all"}
            edit={edit}
            open={setColumnView}
          />
        ))}
      {dialog === "look" && <LookDialog onClose={() => setDialog(null)} />}
      {dialog === "cartridge" && <CartridgeDialog onClose={() => setDialog(null)} />}
      <Why>
        {written ? (
          <ItemCard
            key={written.itemId ?? "new"}
            written={written}
            onClose={() => setWritten(null)}
            onMade={(itemId) => setAt({ itemId, columnId: null })}
            onShown={setShownItem}
          />
        ) : view !== "crossings" && finding ? (
          <FindingWhy
            key={finding.key}
            finding={finding}
            show={{
              says: "Show it among the crossings",
              go() {
                setView("crossings");
                setShow("all");
                setAt({ itemId: finding.itemId ?? "", columnId: null });
              },
            }}
          />
        ) : view !== "crossings" ? (
          <AuditWords />
        ) : item && column ? (
          <CrossingWhy item={item} column={column} lost={stranded.get(item.id)} edit={() => edit(item.id)} />
        ) : item ? (
          <ItemWhy
            item={item}
            edit={() => edit(item.id)}
            add={() => setWritten({ itemId: null, parentId: parentOf, isInIt: true })}
            choose={showFinding}
          />
        ) : (
          <CoordinatorOnly>
            <CourseWhy />
          </CoordinatorOnly>
        )}
        {view === "crossings" && item && !written && (
          <Button quiet onPress={() => setAt(null)}>
            The course as a whole
          </Button>
        )}
      </Why>
    </div>
  );
}

function Legend() {
  const kinds: [Crossing["kind"], string][] = [
    ["open", "open"],
    ["partly", "later, or for some"],
    ["hidden", "hidden"],
    ["problem", "leak or stranded"],
  ];
  return (
    <div className={styles.legend} aria-hidden="true">
      {kinds.map(([kind, word]) => (
        <span key={kind}>
          <CrossingMark
            crossing={{ kind, members: 1, open: 0, later: 0, leaks: 0, stranded: 0 }}
            colour="var(--ink-soft)"
          />
          {word}
        </span>
      ))}
    </div>
  );
}
