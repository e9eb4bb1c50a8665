import { useEffect, useMemo, useState } from "react";
import { compareText, lookup, outlineOrder, targetName } from "../../../core/plan/lookup.ts";
import type { DateField, Group, Item, Plan } from "../../../core/plan/types.ts";
import { datesOutOfOrder } from "../../../core/reach/audit/dates.ts";
import type { Origin } from "../../../core/timing/resolve.ts";
import { useBench, Why } from "../../bench/context.tsx";
import { LayerChoice } from "../../bench/LayerChoice.tsx";
import { Stripe } from "../../kit/Stripe.tsx";
import { Views } from "../../kit/Views.tsx";
import { plural } from "../../kit/words.ts";
import base from "../station.module.css";
import { AllowancesView } from "./AllowancesView.tsx";
import { DateCell } from "./DateCell.tsx";
import { type GroupDates, groupDates, moments, valuesOf } from "./groupDates.ts";
import { OverridesView } from "./OverridesView.tsx";
import { Spans } from "./Spans.tsx";
import { fieldNames, sayValue } from "./sayValue.ts";
import styles from "./timing.module.css";

type View = "dates" | "overrides" | "allowances";
const views: { value: View; label: string }[] = [
  { value: "dates", label: "Dates" },
  { value: "overrides", label: "Overrides" },
  { value: "allowances", label: "Allowances" },
];

export function Timing() {
  const { state, plan, reach } = useBench();
  const { layers, groupsOfLayer } = lookup(plan);
  const [layerId, setLayerId] = useState<string | null>(null);
  const [itemId, setItemId] = useState<string | null>(null);
  const [view, setView] = useState<View>("dates");
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
  const wrong = useMemo(() => datesOutOfOrder(reach), [reach]);
  const { target } = state;
  useEffect(() => {
    if (target?.kind !== "item") return;
    setView("dates");
    setItemId(target.id);
  }, [target]);
  const dated = items.filter(
    (item) => Object.keys(item.dates).length > 0 || (lookup(plan).overridesOfItem.get(item.id) ?? []).length > 0,
  );
  const item = plan.items[itemId ?? ""] ?? dated[0] ?? items[0];

  return (
    <div className={base.station}>
      <div className={base.head}>
        <h2>Timing</h2>
        <Views label="View" value={view} onChange={setView} options={views} />
        <span className={base.figures}>
          <span>
            <strong>{dated.length}</strong> of {items.length} items have dates
          </span>
          <span className={wrong.length > 0 ? base.wrong : ""}>
            <strong>{wrong.length}</strong> out of order
          </span>
        </span>
        <span className={base.push} />
        {view === "dates" && <LayerChoice layer={layer} choose={setLayerId} />}
      </div>
      {view === "overrides" && <OverridesView />}
      {view === "allowances" && <AllowancesView />}
      {view !== "dates" ? null : items.length === 0 ? (
        <div className={base.empty}>
          <h3>Nothing here has dates yet</h3>
          <p className={base.soft}>
            Make an assignment on Reach; its dates, and those that differ for a group, are set here.
          </p>
        </div>
      ) : (
        <>
          <Spans groups={groups} items={dated} chosen={item?.id ?? null} choose={setItemId} />
          <div className={styles.halves}>
            <ItemList
              items={items}
              wrong={new Set(wrong.map(({ itemId }) => itemId ?? ""))}
              chosen={item?.id ?? null}
              choose={setItemId}
            />
            {item && <Dates key={item.id} item={item} groups={groups} isPrivate={layer?.private ?? false} />}
          </div>
        </>
      )}
      <Why>
        {view === "dates" && item && (
          <DatesWhy item={item} wrong={wrong.filter((finding) => finding.itemId === item.id).map(({ says }) => says)} />
        )}
      </Why>
    </div>
  );
}

function ItemList({
  items,
  wrong,
  chosen,
  choose,
}: {
  items: Item[];
  wrong: Set<string>;
  chosen: string | null;
  choose(itemId: string): void;
}) {
  const { plan } = useBench();
  return (
    <section className={base.scroll} aria-label="Items">
      <table className={base.table}>
        <thead className={styles.stickyHead}>
          <tr>
            <th>Item</th>
            <th>Due</th>
            <th className={base.number}>Differ</th>
          </tr>
        </thead>
        <tbody>
          {items.map((item) => (
            <tr key={item.id} className={item.id === chosen ? (styles.chosen as string) : ""}>
              <td className={styles.itemCell}>
                <button
                  type="button"
                  className={base.plainButton}
                  aria-current={item.id === chosen || undefined}
                  onClick={() => choose(item.id)}
                >
                  {item.title}
                </button>
                {wrong.has(item.id) && <span className={base.wrong}> out of order</span>}
              </td>
              <td>{item.dates.due ? sayValue(item.dates.due) : ""}</td>
              <td className={base.number}>{(lookup(plan).overridesOfItem.get(item.id) ?? []).length || ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** The base dates of an item, and those that differ for a group: one row each. */
function Dates({ item, groups, isPrivate }: { item: Item; groups: Group[]; isPrivate: boolean }) {
  const { store, plan, reach } = useBench();
  const overrideOf = (kind: "set" | "group", id: string) =>
    (lookup(plan).overridesOfItem.get(item.id) ?? []).find(({ target }) => target.kind === kind && target.id === id);
  const sets = Object.values(plan.sets).sort((a, b) => compareText(a.name, b.name));
  return (
    <section aria-label={`Dates of ${item.title}`} className={base.scroll}>
      <h3 className={styles.datesTitle}>{item.title}</h3>
      <table className={base.table}>
        <thead>
          <tr>
            <th>For</th>
            <th>Opens</th>
            <th>Due</th>
            <th>Closes</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <td>
              <strong>Everyone</strong>
            </td>
            {moments.map((field) => (
              <td key={field}>
                <DateCell
                  label={`${field} for everyone`}
                  own={item.dates[field] ?? null}
                  falls={null}
                  suggested={`${plan.course.termStart}T09:00`}
                  onChange={(value) =>
                    store.draft([{ kind: "dates.set", itemIds: [item.id], dates: { [field]: value } }])
                  }
                />
              </td>
            ))}
          </tr>
          {groups.map((group) => {
            const dates: GroupDates = groupDates(reach, item, group);
            return (
              <tr key={group.id}>
                <td>
                  <Stripe stripe={group.stripe} isPrivate={isPrivate} /> {group.name}
                </td>
                {moments.map((field) => (
                  <td key={field}>
                    <DateCell
                      label={`${field} for ${group.name}`}
                      own={overrideOf("group", group.id)?.dates[field] ?? null}
                      falls={dates[field].value as string | null}
                      suggested={item.dates[field] ?? `${plan.course.termStart}T09:00`}
                      onChange={(value) =>
                        store.draft([
                          {
                            kind: "override.set",
                            itemIds: [item.id],
                            target: { kind: "group", id: group.id },
                            dates: { [field]: value },
                          },
                        ])
                      }
                    />
                    {dates[field].differ > 0 && (
                      <span className={base.soft}> {plural(dates[field].differ, "differs", "differ")}</span>
                    )}
                  </td>
                ))}
              </tr>
            );
          })}
          {sets.map((set) => (
            <tr key={set.id}>
              <td>
                {set.name} <span className={base.soft}>set</span>
              </td>
              {moments.map((field) => (
                <td key={field}>
                  <DateCell
                    label={`${field} for ${set.name}`}
                    own={overrideOf("set", set.id)?.dates[field] ?? null}
                    falls={null}
                    suggested={item.dates[field] ?? `${plan.course.termStart}T09:00`}
                    onChange={(value) =>
                      store.draft([
                        {
                          kind: "override.set",
                          itemIds: [item.id],
                          target: { kind: "set", id: set.id },
                          dates: { [field]: value },
                        },
                      ])
                    }
                  />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function sayOrigin(plan: Plan, { kind, target, allowances }: Origin): string {
  const from =
    kind === "base"
      ? "the base value"
      : kind === "person"
        ? "their own override"
        : `the override for ${target ? targetName(plan, target) : "a removed group"}`;
  const more = allowances.map((allowance) => {
    const by = allowance.minutesFactor
      ? `× ${allowance.minutesFactor}`
      : allowance.extraDays
        ? `+ ${plural(allowance.extraDays, "day")}`
        : `+ ${allowance.extraAttempts}`;
    return `${by} by the allowance for ${targetName(plan, allowance.target)}`;
  });
  return [from, ...more].join(", ");
}

/** Why these dates: each value among the students, where it came from and how many have it. */
function DatesWhy({ item, wrong }: { item: Item; wrong: string[] }) {
  const { plan, reach } = useBench();
  return (
    <section>
      <h3 className={base.whyTitle}>{item.title}</h3>
      {wrong.map((says) => (
        <p key={says} className={base.wrong}>
          {says}
        </p>
      ))}
      {(Object.keys(fieldNames) as DateField[]).map((field) => {
        const values = valuesOf(reach, item, field).filter(({ value }) => value !== null);
        if (values.length === 0) return null;
        return (
          <div key={field} className={styles.whyField}>
            <h4>{fieldNames[field]}</h4>
            {values.map(({ value, origin, personIds }) => (
              <p key={personIds[0]}>
                <strong>{sayValue(value)}</strong> for {plural(personIds.length, "student")}: {sayOrigin(plan, origin)}.
              </p>
            ))}
          </div>
        );
      })}
      <p className={base.soft}>
        {plan.course.datePolicy === "most generous"
          ? "Where two overrides meet, the more generous one holds."
          : "Where two overrides meet, the layer that comes first holds."}
      </p>
    </section>
  );
}
