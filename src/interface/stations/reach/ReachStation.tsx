import { useEffect, useState } from "react";
import { lookup } from "../../../core/plan/lookup.ts";
import { openFindings } from "../../../core/reach/audit/audit.ts";
import { type FindingKind, isTiming } from "../../../core/reach/audit/finding.ts";
import { Button } from "../../kit/Button.tsx";
import { Views } from "../../kit/Views.tsx";
import { useActions, useFindings, useParts, useWorkbench, Why } from "../../workbench/context.tsx";
import { CoordinatorOnly } from "../../workbench/may.tsx";
import { views } from "../../workbench/views.ts";
import { FindingsFigure } from "../FindingsFigure.tsx";
import base from "../station.module.css";
import { AuditView } from "./audit/AuditView.tsx";
import { Lattice } from "./audit/Lattice.tsx";
import { CartridgeDialog } from "./CartridgeDialog.tsx";
import { Crossings } from "./Crossings.tsx";
import { LookDialog } from "./LookDialog.tsx";
import { ReachBar } from "./ReachBar.tsx";
import { ReachWhy } from "./ReachWhy.tsx";
import styles from "./reach.module.css";
import { useStranded } from "./useOutline.ts";
import { type ReachState, useReachState } from "./useReachState.ts";

const isOfReach = (kind: FindingKind) => !isTiming(kind);

export function ReachStation() {
  const { plan } = useWorkbench();
  const { target } = useParts("target");
  const { layers } = lookup(plan);
  const reach = useReachState();
  const { view, setView, setAt, setWritten, setDialog, dialog } = reach;
  const stranded = useStranded();
  const [shownItem, setShownItem] = useState<string | null>(null);
  useActions({
    "new item": () => setWritten({ itemId: null, parentId: null }),
    look: () => setDialog("look"),
    outline: () => setDialog("cartridge"),
  });
  useEffect(() => {
    if (target?.kind !== "item") return;
    setView("crossings");
    setAt({ itemId: target.id, columnId: null });
  }, [target, setView, setAt]);
  return (
    <div className={base.station}>
      <Head reach={reach} />
      {view !== "audit" && layers.length > 0 && <ReachBar reach={reach} />}
      {view === "audit" && (
        <AuditView
          of={isOfReach}
          nothing="Nobody sees what is not meant for them, and nobody misses what is."
          chosen={reach.findingKey}
          choose={reach.chooseFinding}
        />
      )}
      {view === "lattice" && <Lattice choose={reach.showFinding} />}
      {view === "crossings" && <Crossings reach={reach} stranded={stranded} shownItem={shownItem} />}
      {dialog === "look" && <LookDialog onClose={() => setDialog(null)} />}
      {dialog === "cartridge" && <CartridgeDialog onClose={() => setDialog(null)} />}
      <Why>
        <ReachWhy reach={reach} stranded={stranded} setShownItem={setShownItem} />
      </Why>
    </div>
  );
}

function Head({ reach: { view, setView, setDialog, writeNew } }: { reach: ReachState }) {
  const { plan } = useWorkbench();
  const audit = useFindings();
  const open = openFindings(audit.findings);
  return (
    <div className={base.head}>
      <h2>Reach</h2>
      <Views followsArrows label="View" value={view} onChange={setView} options={views.reach} />
      <span className={base.figures} aria-live="polite">
        <span>
          <strong>{Object.keys(plan.items).length}</strong> items
        </span>
        <FindingsFigure count={open.length} isWrong={open.some(({ asks }) => !asks)} />
      </span>
      <span className={base.push} />
      <CoordinatorOnly>
        <Button onPress={() => setDialog("look")}>Look through</Button>
      </CoordinatorOnly>
      {view === "crossings" ? (
        <Button strong onPress={writeNew}>
          New item
        </Button>
      ) : (
        <CoordinatorOnly>
          <a
            className={styles.report}
            href={`/report/${plan.course.id}${audit.layerId ? `?layer=${audit.layerId}` : ""}`}
            target="_blank"
            rel="noreferrer"
          >
            Report
          </a>
        </CoordinatorOnly>
      )}
    </div>
  );
}
