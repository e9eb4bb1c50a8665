import { type CSSProperties, useCallback, useMemo, useState } from "react";
import { type Formed, scoreOf } from "../../../../core/placement/forming/form.ts";
import { type FormingInput, nameOf } from "../../../../core/placement/forming/input.ts";
import { broken, exchanged, saySoft, traits } from "../../../../core/placement/forming/say.ts";
import { sayDecimal } from "../../../../core/text/locale.ts";
import { Rows } from "../../../kit/Rows.tsx";
import { plural } from "../../../kit/words.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import styles from "./forming.module.css";

export interface Try {
  formed: Formed;
  /** People who changed places by hand since. */
  swaps: number;
}
interface TriesProps {
  input: FormingInput;
  tries: Try[];
  chosen: number;
  choose(at: number): void;
  change(made: Try): void;
  namesOf(formed: Formed): string[][];
}

const percent = (cost: number, weight: number) => `${sayDecimal((100 * cost) / weight, 1)} %`;

/** Tries beside each other, and the groups of one of them, with swaps by hand. */
export function Tries({ input, tries, chosen, choose, change, namesOf }: TriesProps) {
  const { plan } = useWorkbench();
  const [picked, setPicked] = useState<string | null>(null);
  const [says, setSays] = useState("");
  const one = tries[chosen] as Try;
  const scores = useMemo(() => tries.map(({ formed }) => scoreOf(input, formed)), [input, tries]);
  const names = useMemo(() => namesOf(one.formed), [namesOf, one.formed]);
  const name = (id: string) => nameOf(plan, id);
  const layerName = (id: string) => plan.layers[id]?.name ?? "a removed layer";
  const faults = useMemo(() => {
    const nameIn = (id: string) => nameOf(plan, id);
    return broken(input, one.formed, nameIn, (scope, bin) => names[scope]?.[bin] ?? "");
  }, [input, one.formed, names, plan]);
  const groups = one.formed.scopes.flatMap((scope, at) =>
    scope.groups.map(({ people }, place) => ({ people, name: names[at]?.[place] ?? "" })),
  );
  const tallest = Math.max(1, ...groups.map(({ people }) => people.length));
  const [columns, setColumns] = useState(3);
  const lines = Math.max(1, Math.ceil(tallest / columns));
  /** As many names beside each other as can be read. */
  const measure = useCallback((element: HTMLElement | null) => {
    if (!element) return;
    const observer = new ResizeObserver(([entry]) =>
      setColumns(Math.max(1, Math.floor((entry?.contentRect.width ?? 480) / 150))),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const press = (id: string) => {
    if (picked === null || picked === id) {
      setPicked(picked === id ? null : id);
      setSays("");
      return;
    }
    const made = exchanged(input, one.formed, picked, id);
    if (made) {
      change({ formed: made, swaps: one.swaps + 1 });
      setSays(`${name(picked)} and ${name(id)} changed places.`);
    } else
      setSays(
        `${name(picked)} and ${name(id)} cannot change places: they are of one group or of two scopes, or a wish that is always kept stands against it.`,
      );
    setPicked(null);
  };
  return (
    <div className={styles.outcome} ref={measure}>
      <table className={base.table}>
        <thead>
          <tr>
            <th scope="col">Wish</th>
            {tries.map(({ formed, swaps }, at) => (
              <th scope="col" key={formed.seed} className={base.number}>
                <button
                  type="button"
                  className={styles.tryName}
                  aria-pressed={at === chosen}
                  onClick={() => {
                    choose(at);
                    setPicked(null);
                  }}
                >
                  Try {formed.seed}
                  {swaps > 0 && `, ${plural(swaps, "swap")}`}
                </button>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {input.forming.soft.map((wish, at) => (
            <tr key={saySoft(wish, layerName)}>
              <th scope="row">
                {saySoft(wish, layerName)} <span className={base.soft}>× {wish.weight}</span>
              </th>
              {scores.map(({ wishes }, column) => (
                <td key={tries[column]?.formed.seed} className={base.number}>
                  {percent(wishes[at] ?? 0, wish.weight)}
                </td>
              ))}
            </tr>
          ))}
          <tr>
            <th scope="row">
              Left of what could go wrong, weighed <span className={base.soft}>0 is best</span>
            </th>
            {scores.map(({ total }, column) => (
              <td key={tries[column]?.formed.seed} className={base.number}>
                <strong>{sayDecimal(total, 3)}</strong>
              </td>
            ))}
          </tr>
        </tbody>
      </table>
      {faults.some((list) => list.length > 0) && (
        <details className={styles.faults}>
          <summary>{plural(faults.flat().length, "place")} where a wish is not quite met</summary>
          <ul>
            {faults.flatMap((list, at) =>
              list.slice(0, 30).map((said) => <li key={JSON.stringify([input.forming.soft[at], said])}>{said}</li>),
            )}
          </ul>
          {faults.some((list) => list.length > 30) && <p className={base.soft}>The first thirty of each wish.</p>}
        </details>
      )}
      <p className={base.soft} aria-live="polite">
        {says ||
          (picked
            ? `${name(picked)} is picked. Press whom they change places with.`
            : "Press two people to let them change places; the score follows.")}
      </p>
      <Rows key={lines} count={groups.length} height={30 + lines * 26} className={styles.groups} label="Formed groups">
        {(index) => {
          const group = groups[index] as (typeof groups)[number];
          return (
            <div className={styles.group}>
              <div className={styles.groupHead}>
                <strong>{group.name}</strong>
                <span>{group.people.length}</span>
                <span className={`${base.soft} ${base.cut}`}>{traits(input, group.people).join("; ")}</span>
              </div>
              <div className={styles.members} style={{ "--columns": columns } as CSSProperties}>
                {group.people.map((id) => (
                  <button
                    type="button"
                    key={id}
                    className={styles.member}
                    aria-pressed={picked === id}
                    onClick={() => press(id)}
                  >
                    {name(id)}
                  </button>
                ))}
              </div>
            </div>
          );
        }}
      </Rows>
    </div>
  );
}
