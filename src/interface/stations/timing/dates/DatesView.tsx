import { type ReactNode, useState } from "react";
import { sayDate } from "../../../../core/clock/local-time.ts";
import { lookup } from "../../../../core/plan/lookup.ts";
import type { Group, Item, Layer } from "../../../../core/plan/types.ts";
import type { Finding } from "../../../../core/reach/audit/finding.ts";
import { isAnchor } from "../../../../core/timing/anchors.ts";
import type { GivenValue } from "../../../../core/timing/resolving/resolve.ts";
import type { DateTable } from "../../../../core/timing/resolving/table.ts";
import { TextField } from "../../../kit/Fields.tsx";
import { RowCheck } from "../../../kit/RowCheck.tsx";
import { Rows } from "../../../kit/Rows.tsx";
import { useMemoWhen } from "../../../kit/when.ts";
import { holdsWords, plural, withTicks } from "../../../kit/words.ts";
import { useWorkbench, Why } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import styles from "../timing.module.css";
import { DatesOf } from "./DatesOf.tsx";
import { DatesWhy } from "./DatesWhy.tsx";

interface DatesProps {
  table: DateTable;
  items: Item[];
  layer: Layer | undefined;
  groups: Group[];
  layerChoice: ReactNode;
  findings: Finding[];
  itemId: string | null;
  choose(itemId: string): void;
}

/** "9 Oct", "m6": there is no room for more beside a title. */
const sayShort = (due: GivenValue): string =>
  isAnchor(due)
    ? typeof due.meeting === "number"
      ? `m${due.meeting}`
      : "by a meeting"
    : due === "none"
      ? "none"
      : sayDate(String(due).slice(0, 10));

/** Items on the left, one or many; on the right the dates that everyone and each group has of them. */
export function DatesView({ table, items, layer, groups, layerChoice, findings, itemId, choose }: DatesProps) {
  const { plan } = useWorkbench();
  const [text, setText] = useState("");
  const [checked, setChecked] = useState<ReadonlySet<string>>(new Set());
  const fits = holdsWords(text);
  const shown = items.filter(({ title }) => fits(title));
  const isDated = (item: Item) =>
    Object.keys(item.dates).length > 0 || (lookup(plan).overridesOfItem.get(item.id) ?? []).length > 0;
  const one = plan.items[itemId ?? ""] ?? shown.find(isDated) ?? shown[0];
  const many = items.filter(({ id }) => checked.has(id));
  const chosen = many.length > 0 ? many : one ? [one] : [];
  const ids = chosen.map(({ id }) => id).join();
  // The list is made anew at every rendering; what it names decides.
  // The ids say which.
  const steady = useMemoWhen([ids, plan.items], () => chosen);
  const check = (list: string[], is: boolean) => setChecked(withTicks(checked, list, is));
  const wrong = new Map<string, number>();
  for (const finding of findings) if (finding.itemId) wrong.set(finding.itemId, (wrong.get(finding.itemId) ?? 0) + 1);
  return (
    <div className={styles.halves}>
      <section className={styles.items} aria-label="Items">
        <div className={styles.itemsHead}>
          <RowCheck
            label="Choose all items"
            isSelected={shown.length > 0 && many.length === shown.length}
            onChange={(is) =>
              check(
                shown.map(({ id }) => id),
                is,
              )
            }
          />
          <TextField label="Find an item" hideLabel placeholder="Find an item" value={text} onChange={setText} />
        </div>
        <Rows label="Items with dates" count={shown.length} className={styles.itemRows as string}>
          {(index) => {
            const item = shown[index] as Item;
            return (
              <div className={`${base.line} ${steady.includes(item) ? styles.chosen : ""}`}>
                <RowCheck
                  label={`Choose ${item.title}`}
                  isSelected={checked.has(item.id)}
                  onChange={(is) => check([item.id], is)}
                />
                <button
                  type="button"
                  className={`${base.plainButton} ${base.cut}`}
                  aria-current={(many.length === 0 && item.id === one?.id) || undefined}
                  title={item.title}
                  onClick={() => {
                    setChecked(new Set());
                    choose(item.id);
                  }}
                >
                  {item.title}
                </button>
                <span className={base.push} />
                {wrong.has(item.id) && (
                  <span className={base.wrong} title={plural(wrong.get(item.id) ?? 0, "finding")}>
                    {wrong.get(item.id)}
                    <span className="visually-hidden"> {wrong.get(item.id) === 1 ? "finding" : "findings"}</span>
                  </span>
                )}
                <span className={base.soft}>
                  {item.dates.due
                    ? sayShort(item.dates.due)
                    : (lookup(plan).overridesOfItem.get(item.id) ?? []).length > 0
                      ? "differs"
                      : ""}
                </span>
              </div>
            );
          }}
        </Rows>
      </section>
      {steady.length > 0 && (
        <DatesOf key={ids} {...{ table, groups, layerChoice }} items={steady} isPrivate={layer?.private ?? false} />
      )}
      <Why>
        {steady.length === 1 && steady[0] && (
          <DatesWhy
            key={ids}
            table={table}
            item={steady[0]}
            findings={findings.filter((finding) => finding.itemId === steady[0]?.id)}
          />
        )}
        {steady.length > 1 && (
          <section>
            <h3 className={base.whyTitle}>{plural(steady.length, "item")}</h3>
            <p>What is set here is set for each of them at once.</p>
            <ul className={styles.gets}>
              {steady.slice(0, 40).map(({ id, title }) => (
                <li key={id}>{title}</li>
              ))}
            </ul>
          </section>
        )}
      </Why>
    </div>
  );
}
