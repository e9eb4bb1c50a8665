import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { isMistake, parseFilter } from "../../../core/gradebook/filter.ts";
import { matcher } from "../../../core/gradebook/match.ts";
import { filterNames } from "../../../core/gradebook/names.ts";
import { type Sheet, sheetOf } from "../../../core/gradebook/sheet.ts";
import { type SavedFilter, type SavedView, shownColumns, usualView } from "../../../core/gradebook/view.ts";
import { fullName, lookup } from "../../../core/plan/lookup.ts";
import type { Reach } from "../../../core/reach/reach.ts";
import { sayNumber } from "../../../core/text/locale.ts";
import { Button } from "../../kit/Button.tsx";
import { Choice } from "../../kit/Fields.tsx";
import { Views } from "../../kit/Views.tsx";
import { useEffectWhen } from "../../kit/when.ts";
import { plural } from "../../kit/words.ts";
import { useActions, useKept, useParts, usePlace, useReach, useWorkbench, Why } from "../../workbench/context.tsx";
import { type ViewOf, views } from "../../workbench/views.ts";
import base from "../station.module.css";
import { AttemptsView } from "./attempts/AttemptsView.tsx";
import { CellWhy } from "./CellWhy.tsx";
import { ColumnsDialog } from "./ColumnsDialog.tsx";
import { CompareView } from "./compare/CompareView.tsx";
import { FilterBar } from "./filters/FilterBar.tsx";
import { useFilters } from "./filters/useFilters.ts";
import { GradingDialog } from "./GradingDialog.tsx";
import styles from "./gradebook.module.css";
import type { At } from "./grid/editing.ts";
import { MarkGrid } from "./grid/MarkGrid.tsx";
import { MarksFilesDialog } from "./MarksFilesDialog.tsx";
import { MarkingView } from "./marking/MarkingView.tsx";
import { TotalWhy } from "./TotalWhy.tsx";
import { useMarks } from "./useMarks.ts";
import { useWithChosen } from "./useWithChosen.tsx";

/** The sheet of the workbench's reach: a mark that is given leaves most of it as it was. */
function useSheet(reach: Reach): Sheet {
  const before = useRef<Sheet | null>(null);
  return useMemo(() => {
    before.current = sheetOf(reach, before.current);
    return before.current;
  }, [reach]);
}

/** What each view is for and which keys it has. */
const help: Record<ViewOf<"gradebook">, string> = {
  grid: "Select a cell to see how the student stands. Type a mark and press Enter; x excuses, t opens the total, m gives more time, w writes to them, l looks through their eyes. Shift with an arrow selects more; Ctrl with D fills down, and a block from a spreadsheet is pasted with a look at what it changes. Ctrl with Z takes marks back.",
  marking:
    "Choose what was handed in from the queue: it stands beside its mark. Ctrl with Enter stores the mark and goes on; Alt with an arrow goes on or back, and keeps what was typed. Where work is shared, one mark goes to all of the group.",
  attempts:
    "Who works on a quiz now, and who has. Give more time on the spot, end an attempt, open it again or make it void; Questions says which were hard, and shows the answers to one.",
  compare:
    "Groups of a layer stand beside each other: how far their work is, and how their marks lie. The filter says of whom; a column or the total says of what.",
};

export function Gradebook() {
  const { plan } = useWorkbench();
  const state = useParts("target", "scope");
  const reach = useReach();
  const filters = useFilters();
  const [shown, setShown] = usePlace<ViewOf<"gradebook">>("gradebook.view", "grid");
  const [text, setText] = usePlace<string>("gradebook.filter", "");
  const [view, setView] = useKept<SavedView>("gradebook columns", usualView);
  const [at, setAt] = useState<At | null>(null);
  const [totalOfWhom, setTotalOfWhom] = useState<string | null>(null);
  const [dialog, setDialog] = useState<"settings" | "columns" | "files" | null>(null);
  const chosen = useWithChosen();
  const sheet = useSheet(reach);
  const names = useMemo(() => filterNames(plan, sheet.columns), [plan, sheet.columns]);
  const parsed = useMemo(() => parseFilter(text, names), [text, names]);
  const mistake = isMistake(parsed) ? parsed : null;
  // While a filter is being typed and is not one yet, the last good one stays.
  const [good, setGood] = useState(parsed);
  if (!mistake && parsed !== good) setGood(parsed);
  const filter = isMistake(good) ? { kind: "all" as const } : good;
  const marks = useMarks(sheet);
  const columns = useMemo(() => shownColumns(plan, sheet.columns, view), [plan, sheet.columns, view]);
  const items = useMemo(() => columns.map(({ item }) => item), [columns]);
  const matched = useMemo(() => matcher(filter, sheet), [filter, sheet]);
  const rows = useMemo(() => matched.rows(), [matched]);
  const counts = useMemo(() => {
    const count = (filterText: string) => {
      const one = parseFilter(filterText, names);
      return isMistake(one) ? 0 : matcher(one, sheet).rows().length;
    };
    return new Map(filters.saved.map((one) => [one.id, count(one.text)]));
  }, [filters.saved, sheet, names]);
  const take = useCallback(
    (one: SavedFilter) => {
      setText(one.text);
      if (one.view) setView(one.view);
    },
    [setText, setView],
  );
  // A filter that the address named has the columns that it was kept with.
  // Once the saved ones are there.
  useEffectWhen([filters.saved], () => {
    const named = view === usualView ? filters.saved.find((one) => one.text === text && one.view !== null) : undefined;
    if (named) take(named);
  });
  useActions({
    totals: () => setDialog("settings"),
    "mark files": () => setDialog("files"),
    columns: () => setDialog("columns"),
  });
  // Whom the command field found is whom the filter shows.
  const { target } = state;
  const first = useRef<string | undefined>(undefined);
  [first.current] = rows;
  useEffect(() => {
    const person = target?.kind === "person" ? plan.people[target.id] : undefined;
    // An item that was chosen elsewhere is shown as it was handed in and marked.
    if (target?.kind === "item" && first.current) {
      setShown("marking");
      setAt({ itemId: target.id, personId: first.current });
    }
    if (person) setText(`"${fullName(person).replace(/["\\]/g, "\\$&")}"`);
  }, [target, plan.people, setText, setShown]);
  const own = useMemo(() => (state.scope ? new Set(state.scope.own) : null), [state.scope]);
  const chooseCell = useCallback((next: At) => {
    setAt(next);
    setTotalOfWhom(null);
  }, []);
  const layers = lookup(plan).layers;
  return (
    <div className={base.station}>
      <div className={base.head}>
        <h2>Gradebook</h2>
        <Views followsArrows label="View" value={shown} onChange={setShown} options={views.gradebook} />
        <span className={base.figures}>
          <span>
            <strong>{sayNumber(rows.length)}</strong> of {plural(reach.students.length, "student")}
          </span>
        </span>
        <div className={styles.tools}>
          {marks.canUndo && (
            <Button quiet onPress={marks.undo} isDisabled={marks.storing}>
              Undo marks
            </Button>
          )}
          <Button quiet onPress={() => setDialog("files")}>
            In and out
          </Button>
          {state.scope === null && (
            <Button quiet onPress={() => setDialog("settings")}>
              Totals
            </Button>
          )}
        </div>
      </div>
      <FilterBar {...{ text, setText, filter, mistake, filters, counts, view, take }} personIds={rows}>
        {shown === "grid" && (
          <>
            <Choice
              label="Rows grouped by"
              hideLabel
              value={view.groupBy ?? "none"}
              onChange={(value) => setView({ ...view, groupBy: value === "none" ? null : value })}
              options={[
                { value: "none", label: "Rows by name" },
                ...layers.map(({ id, name }) => ({ value: id, label: `Rows by ${name}` })),
              ]}
            />
            <Button quiet onPress={() => setDialog("columns")}>
              {columns.length < sheet.columns.length && `${columns.length} of `}
              {plural(sheet.columns.length, "column")}
            </Button>
          </>
        )}
      </FilterBar>
      {sheet.columns.length === 0 ? (
        <div className={base.empty}>
          <h3>No columns yet</h3>
          <p className={base.soft}>
            An item that carries points is a column here, one however many groups it is for. Make an assignment with
            points on Reach.
          </p>
        </div>
      ) : shown === "grid" ? (
        <MarkGrid
          {...{ sheet, rows, columns, marks, view, setView, at }}
          setAt={chooseCell}
          showTotal={setTotalOfWhom}
          begin={chosen.begin}
        />
      ) : shown === "marking" ? (
        <MarkingView {...{ sheet, marks, at }} bits={matched.bits} columns={items} setAt={chooseCell} />
      ) : shown === "attempts" ? (
        <AttemptsView columns={items} personIds={rows} at={at} />
      ) : (
        <CompareView {...{ sheet, own }} bits={matched.bits} columns={items} />
      )}
      <Why>
        {totalOfWhom !== null ? (
          <TotalWhy personId={totalOfWhom} total={sheet.total(totalOfWhom)} />
        ) : at ? (
          <CellWhy at={at} cells={sheet} open={shown === "marking" ? null : () => setShown("marking")} />
        ) : (
          <p className={base.soft}>{help[shown]}</p>
        )}
      </Why>
      {chosen.dialog}
      {dialog === "settings" && <GradingDialog sheet={sheet} onClose={() => setDialog(null)} />}
      {dialog === "columns" && (
        <ColumnsDialog {...{ view, setView }} columns={sheet.columns} onClose={() => setDialog(null)} />
      )}
      {dialog === "files" && (
        <MarksFilesDialog {...{ sheet, rows, marks }} columns={items} onClose={() => setDialog(null)} />
      )}
    </div>
  );
}
