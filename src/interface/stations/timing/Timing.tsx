import { useEffect, useMemo, useState } from "react";
import { lookup, outlineOrder } from "../../../core/plan/lookup.ts";
import { isTiming } from "../../../core/reach/audit/finding.ts";
import { Button } from "../../kit/Button.tsx";
import { Views } from "../../kit/Views.tsx";
import { plural } from "../../kit/words.ts";
import { useActions, useFindings, useParts, usePlace, useSelected, useWorkbench } from "../../workbench/context.tsx";
import { LayerChoice } from "../../workbench/LayerChoice.tsx";
import { CoordinatorOnly } from "../../workbench/may.tsx";
import { type ViewOf, views } from "../../workbench/views.ts";
import { FindingsFigure } from "../FindingsFigure.tsx";
import base from "../station.module.css";
import { AllowancesView } from "./AllowancesView.tsx";
import { CalendarsDialog } from "./CalendarsDialog.tsx";
import { ChecksView } from "./ChecksView.tsx";
import { DatesFileDialog } from "./DatesFileDialog.tsx";
import { DatesView } from "./dates/DatesView.tsx";
import { MeetingsView } from "./meetings/MeetingsView.tsx";
import { OverridesView } from "./OverridesView.tsx";
import { RulesDialog } from "./RulesDialog.tsx";
import { SpansView } from "./spans/SpansView.tsx";
import { useDateTable } from "./useDateTable.ts";

/** One plan of dates that fits every section, group and person. */
export function Timing() {
  const { plan } = useWorkbench();
  const state = useParts("target");
  const audit = useFindings();
  const { layers, groupsOfLayer, overridesOfItem } = lookup(plan);
  const [layerId, setLayerId] = useSelected("layer");
  const [itemId, setItemId] = useSelected("item");
  const [view, setView] = usePlace<ViewOf<"timing">>("timing.view", "dates");
  const [open, setOpen] = useState<"rules" | "table" | "calendars" | null>(null);
  const close = () => setOpen(null);
  const table = useDateTable();
  const layer =
    layers.find(({ id }) => id === layerId) ?? layers.find(({ following }) => following !== null) ?? layers[0];
  const groups = useMemo(() => (layer ? (groupsOfLayer.get(layer.id) ?? []) : []), [layer, groupsOfLayer]);
  const items = useMemo(
    () =>
      outlineOrder(plan)
        .map(({ item }) => item)
        .filter(({ kind }) => kind !== "folder"),
    [plan],
  );
  const dated = useMemo(
    () => items.filter((item) => Object.keys(item.dates).length > 0 || (overridesOfItem.get(item.id) ?? []).length > 0),
    [items, overridesOfItem],
  );
  const findings = audit.findings.filter(({ kind, accepted }) => isTiming(kind) && accepted === null);
  const showItem = (id: string) => {
    setView("dates");
    setItemId(id);
  };
  const layerChoice = <LayerChoice layer={layer} choose={setLayerId} />;
  useActions({
    "date rules": () => setOpen("rules"),
    "date table": () => setOpen("table"),
    calendars: () => setOpen("calendars"),
  });
  const { target } = state;
  useEffect(() => {
    if (target?.kind !== "item") return;
    setView("dates");
    setItemId(target.id);
  }, [target, setView, setItemId]);

  return (
    <div className={base.station}>
      <div className={base.head}>
        <h2>Timing</h2>
        <Views followsArrows label="View" value={view} onChange={setView} options={views.timing} />
        <span className={base.figures}>
          <span>
            <strong>{dated.length}</strong> of {plural(items.length, "item has dates", "items have dates")}
          </span>
          <FindingsFigure count={findings.length} isWrong={findings.length > 0} />
        </span>
        <span className={base.push} />
        <CoordinatorOnly>
          {" "}
          <Button quiet onPress={() => setOpen("rules")}>
            How dates are decided
          </Button>
          <Button quiet onPress={() => setOpen("table")}>
            Table in and out
          </Button>
          <Button quiet onPress={() => setOpen("calendars")}>
            Calendars
          </Button>
        </CoordinatorOnly>{" "}
      </div>
      {view === "overrides" && <OverridesView />}
      {view === "allowances" && <AllowancesView />}
      {view === "meetings" && <MeetingsView />}
      {view === "checks" && <ChecksView showItem={showItem} />}
      {(view === "dates" || view === "spans") && items.length === 0 && (
        <div className={base.empty}>
          <h3>Nothing here has dates yet</h3>
          <p className={base.soft}>
            Make an assignment on Reach; its dates, and those that differ for a group, are set here.
          </p>
        </div>
      )}
      {view === "dates" && items.length > 0 && (
        <DatesView {...{ table, items, layer, groups, findings, itemId, layerChoice }} choose={setItemId} />
      )}
      {view === "spans" && items.length > 0 && (
        <SpansView {...{ table, layer, groups, showItem, layerChoice }} items={dated} />
      )}
      {open === "rules" && <RulesDialog onClose={close} />}
      {open === "table" && <DatesFileDialog onClose={close} />}
      {open === "calendars" && <CalendarsDialog onClose={close} />}
    </div>
  );
}
