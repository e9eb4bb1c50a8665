import { useEffect, useMemo, useState } from "react";
import * as api from "../../../../api/gradebook.ts";
import type { Sheet } from "../../../../core/gradebook/sheet.ts";
import {
  compareGroups,
  differenceOf,
  fewest,
  type GroupFigures,
  sumsOf,
} from "../../../../core/gradebook/statistics.ts";
import { lookup } from "../../../../core/plan/lookup.ts";
import type { Item } from "../../../../core/plan/types.ts";
import type { Bits } from "../../../../core/sets/bits.ts";
import { sayDecimal } from "../../../../core/text/locale.ts";
import { Button } from "../../../kit/Button.tsx";
import { Checkbox, Choice } from "../../../kit/Fields.tsx";
import { byPlace } from "../../../kit/places.ts";
import { Scrollable } from "../../../kit/Scrollable.tsx";
import { useWorkbench } from "../../../workbench/context.tsx";
import { ask, isFailure } from "../../../workbench/fetch.ts";
import { GroupName } from "../../GroupName.tsx";
import base from "../../station.module.css";
import styles from "./compare.module.css";
import { Dots } from "./Dots.tsx";

interface CompareProps {
  sheet: Sheet;
  bits: Bits;
  columns: Item[];
  /** Groups that are whole within one's scope; null: all are. */
  own: ReadonlySet<string> | null;
}

type OutsideFigures = NonNullable<api.OtherStudents["others"]>;

/**
 * All students who are not one's own, as sums, as they are when a column is looked at: each mark that anybody gives would
 * have the server count the whole course anew. Null until they come, where it is not allowed, and of too few.
 */
function useOutside(itemId: string | null, isAllowed: boolean): OutsideFigures | null {
  const { store } = useWorkbench();
  const [found, setFound] = useState<OutsideFigures | null>(null);
  useEffect(() => {
    if (!isAllowed) return setFound(null);
    let wanted = true;
    void ask(store.address, api.readOtherStudents, { query: { item: itemId ?? undefined } }).then((answer) => {
      if (wanted) setFound(isFailure(answer) ? null : answer.others);
    });
    return () => {
      wanted = false;
    };
  }, [store, itemId, isAllowed]);
  return found;
}

function Outside({ outside }: { outside: OutsideFigures }) {
  const { members, toMark, missing, late, sums } = outside;
  return (
    <tr>
      <th scope="row" className={styles.rowName}>
        All other students
      </th>
      {byPlace([members, toMark, missing, late, sums?.n ?? `under ${fewest}`, percent(sums?.mean), "–", "–"]).map(
        ({ key, one }) => (
          <td key={key} className={base.number}>
            {one}
          </td>
        ),
      )}
      <td colSpan={2} className={base.soft}>
        as sums alone
      </td>
    </tr>
  );
}

const total = "total";
const percent = (value: number | undefined) => (value === undefined ? "–" : `${sayDecimal(value, 1)} %`);
const points = (value: number) => `${value > 0 ? "+" : ""}${sayDecimal(value, 1)}`;

/** Groups of a layer beside each other, in a column or in the total: how far the work is, and how the marks lie. */
export function CompareView({ sheet, bits, columns, own }: CompareProps) {
  const { plan } = useWorkbench();
  const layers = lookup(plan).layers;
  const [layerId, setLayerId] = useState<string | null>(layers[0]?.id ?? null);
  const [itemId, setItemId] = useState<string>(total);
  const [asOfHandIn, setAsOf] = useState(false);
  const [against, setAgainst] = useState("others");
  const item = columns.find(({ id }) => id === itemId) ?? null;
  const figures = useMemo(
    () =>
      layerId ? compareGroups(sheet, { layerId, item, rows: bits, asOfHandIn: asOfHandIn && item !== null, own }) : [],
    [sheet, layerId, item, bits, asOfHandIn, own],
  );
  const outside = useOutside(itemId === total ? null : itemId, own !== null && plan.course.mayCompareWithOthers);
  const most = Math.max(100, ...figures.map(({ summary }) => summary?.values.at(-1) ?? 0));
  const place = columns.findIndex(({ id }) => id === itemId);
  if (!layerId)
    return (
      <div className={base.empty}>
        <h3>No layer to compare by</h3>
        <p className={base.soft}>Make section groups on Placement; then each of them is a line here.</p>
      </div>
    );
  /** The marks that a group is held against: those of one group, of all the others, or of everybody else's students. */
  const othersOf = (one: GroupFigures) => {
    if (against === "outside") return outside?.sums ?? sumsOf([]);
    const others = figures.filter(({ group }) => group.id !== one.group.id && [group.id, "others"].includes(against));
    return sumsOf(others.flatMap(({ summary }) => summary?.values ?? []));
  };
  return (
    <div className={styles.compare}>
      <div className={base.bar}>
        <Choice
          label="By groups of"
          hideLabel
          value={layerId}
          onChange={(value) => {
            setLayerId(value);
            setAgainst("others");
          }}
          options={layers.map(({ id, name }) => ({ value: id, label: name }))}
        />
        <Choice
          label="What"
          hideLabel
          value={itemId}
          onChange={setItemId}
          options={[{ value: total, label: "Total" }, ...columns.map(({ id, title }) => ({ value: id, label: title }))]}
        />
        <Button quiet isDisabled={place < 0} onPress={() => setItemId(columns[place - 1]?.id ?? total)}>
          Column before
        </Button>
        <Button
          quiet
          isDisabled={place === columns.length - 1}
          onPress={() => setItemId(columns[place + 1]?.id ?? total)}
        >
          Next column
        </Button>
        <Choice
          label="Held against"
          hideLabel
          value={against}
          onChange={setAgainst}
          options={[
            { value: "others", label: own ? "held against your others" : "held against all others" },
            ...(outside ? [{ value: "outside", label: "held against all other students" }] : []),
            ...figures.map(({ group }) => ({ value: group.id, label: `held against ${group.name}` })),
          ]}
        />
        {item && (
          <Checkbox isSelected={asOfHandIn} onChange={setAsOf}>
            Groups as of the hand-in
          </Checkbox>
        )}
      </div>
      <Scrollable className={styles.scroll} aria-label="Groups compared">
        <table className={base.table}>
          <thead>
            <tr>
              <th>Group</th>
              <th className={base.number}>Students</th>
              <th className={base.number}>To mark</th>
              <th className={base.number}>Missing</th>
              <th className={base.number}>Late</th>
              <th className={base.number}>{item ? "Marked" : "Totals"}</th>
              <th className={base.number}>Mean</th>
              <th className={base.number}>Median</th>
              <th className={base.number}>Quartiles</th>
              <th>0 to {Math.round(most)} %</th>
              <th className={base.number}>Difference</th>
            </tr>
          </thead>
          <tbody>
            {figures.map((one) => {
              const { group, summary, tooFew } = one;
              const difference = summary ? differenceOf(sumsOf(summary.values), othersOf(one)) : null;
              const clear = difference && (difference.from > 0 || difference.to < 0);
              return (
                <tr key={group.id}>
                  <th scope="row" className={styles.rowName}>
                    <GroupName group={group} />
                  </th>
                  <td className={base.number}>{one.members}</td>
                  {tooFew ? (
                    <td colSpan={9} className={base.soft}>
                      Fewer than {fewest}: nothing is told of them to those outside.
                    </td>
                  ) : (
                    <>
                      <td className={base.number}>{one.toMark}</td>
                      <td className={base.number}>{one.missing}</td>
                      <td className={base.number}>{one.late}</td>
                      <td className={base.number}>{summary?.n ?? 0}</td>
                      <td className={base.number}>{percent(summary?.mean)}</td>
                      <td className={base.number}>{percent(summary?.median)}</td>
                      <td className={base.number}>
                        {summary ? `${sayDecimal(summary.lower, 0)} – ${sayDecimal(summary.upper, 0)}` : "–"}
                      </td>
                      <td className={styles.dotsCell}>
                        {summary && <Dots summary={summary} most={most} name={group.name} />}
                      </td>
                      <td className={base.number}>
                        {difference ? (
                          <>
                            {clear ? <strong>{points(difference.difference)}</strong> : points(difference.difference)}
                            <small className={styles.interval}>
                              {points(difference.from)} to {points(difference.to)}
                            </small>
                          </>
                        ) : (
                          "–"
                        )}
                      </td>
                    </>
                  )}
                </tr>
              );
            })}
            {outside && <Outside outside={outside} />}
          </tbody>
        </table>
      </Scrollable>
      <p className={base.soft}>
        Of the students of this filter. A dot is a student, the band goes from quartile to quartile, the line is the
        median, the cross the mean. Late is against each student's own due. A difference is in percent points, with the
        interval that holds it in 95 of 100 cases; strong where that leaves out nought.
      </p>
    </div>
  );
}
