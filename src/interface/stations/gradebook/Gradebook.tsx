import { useMemo, useState } from "react";
import { cellsOf, columnsOf } from "../../../core/gradebook/cells.ts";
import { isMistake, parseFilter } from "../../../core/gradebook/filter.ts";
import { matcher } from "../../../core/gradebook/match.ts";
import { totalsOf } from "../../../core/gradebook/totals.ts";
import { useBench, Why } from "../../bench/context.tsx";
import { Button } from "../../kit/Button.tsx";
import { plural } from "../../kit/words.ts";
import { IntoGroup } from "../IntoGroup.tsx";
import base from "../station.module.css";
import { CellWhy } from "./CellWhy.tsx";
import { FilterBar } from "./FilterBar.tsx";
import { GradingDialog } from "./GradingDialog.tsx";
import { MarkGrid } from "./MarkGrid.tsx";
import { TotalWhy } from "./TotalWhy.tsx";
import { useFilters } from "./useFilters.ts";

export function Gradebook() {
  const { plan, reach } = useBench();
  const filters = useFilters();
  const [text, setText] = useState("");
  const [at, setAt] = useState<{ personId: string; itemId: string } | null>(null);
  const [totalOfWhom, setTotalOfWhom] = useState<string | null>(null);
  const [settings, setSettings] = useState(false);
  const parsed = useMemo(() => parseFilter(text), [text]);
  const mistake = isMistake(parsed) ? parsed : null;
  // While a filter is being typed and is not one yet, the last good one stays.
  const [good, setGood] = useState(parsed);
  if (!mistake && parsed !== good) setGood(parsed);

  const cells = useMemo(() => cellsOf(reach), [reach]);
  const columns = useMemo(() => columnsOf(plan), [plan]);
  const totals = useMemo(() => totalsOf(plan, cells), [plan, cells]);
  const match = useMemo(() => (isMistake(good) ? null : matcher(good, reach, cells)), [good, reach, cells]);
  const rows = useMemo(() => (match ? reach.students.filter(match.matches) : reach.students), [match, reach.students]);
  const counts = useMemo(() => {
    const count = (filterText: string) => {
      const filter = parseFilter(filterText);
      return isMistake(filter) ? 0 : reach.students.filter(matcher(filter, reach, cells).matches).length;
    };
    return new Map(filters.saved.map((filter) => [filter.id, count(filter.text)]));
  }, [filters.saved, reach, cells]);

  return (
    <div className={base.station}>
      <div className={base.head}>
        <h2>Gradebook</h2>
        <span className={base.figures}>
          <span>
            <strong>{rows.length.toLocaleString("en-GB")}</strong> of {plural(reach.students.length, "student")}
          </span>
          <span>
            <strong>{columns.length}</strong> columns
          </span>
        </span>
        <span className={base.push} />
        <Button quiet onPress={() => setSettings(true)}>
          How totals are made
        </Button>
        <IntoGroup quiet personIds={rows} />
      </div>
      <FilterBar
        text={text}
        setText={setText}
        mistake={mistake}
        strangers={match?.strangers ?? []}
        filters={filters}
        counts={counts}
      />
      {columns.length === 0 ? (
        <div className={base.empty}>
          <h3>No columns yet</h3>
          <p className={base.soft}>
            An item that carries points is a column here, one however many groups it is for. Make an assignment with
            points on Reach.
          </p>
        </div>
      ) : (
        <MarkGrid
          {...{ rows, columns, cells, totals, at }}
          setAt={(next) => {
            setAt(next);
            setTotalOfWhom(null);
          }}
          showTotal={setTotalOfWhom}
        />
      )}
      <Why>
        {totalOfWhom !== null ? (
          <TotalWhy personId={totalOfWhom} total={totals(totalOfWhom)} />
        ) : at ? (
          <CellWhy at={at} cells={cells} />
        ) : (
          <p className={base.soft}>
            Select a cell to see how the student stands. Type a mark and press Enter; x excuses, t opens the total.
          </p>
        )}
      </Why>
      {settings && <GradingDialog cells={cells} onClose={() => setSettings(false)} />}
    </div>
  );
}
