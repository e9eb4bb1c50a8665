import { useState } from "react";
import type { SeenSurface } from "../../../../core/reach/audit/sightlines.ts";
import { sayNumber } from "../../../../core/text/locale.ts";
import { Stripe } from "../../../kit/Stripe.tsx";
import { useFindings, useParts, useWorkbench } from "../../../workbench/context.tsx";
import { GroupName } from "../../GroupName.tsx";
import base from "../../station.module.css";
import styles from "./audit.module.css";

const percent = (share: number) => (share > 0 && share < 0.005 ? "under 1 %" : `${Math.round(share * 100)} %`);

/** Groups against groups, darker the more of their pairs see each other; and where they do. */
export function Lattice({ choose }: { choose(key: string): void }) {
  const { plan } = useWorkbench();
  const audit = useFindings();
  const { scope } = useParts("scope");
  const [at, setAt] = useState<[number, number] | null>(null);
  const lines = audit.sightlines;
  if (!lines)
    return (
      <div className={base.empty}>
        <h3>{audit.pending ? "Counting who sees whom" : "No layer to keep apart"}</h3>
        {!audit.pending && (
          <p className={base.soft}>Make section groups on Placement; then every pair of them stands here.</p>
        )}
      </div>
    );
  const { groups, matrix } = lines;
  const isPrivate = plan.layers[lines.layerId]?.private ?? false;
  const cell = at && matrix[at[0]]?.[at[1]];
  return (
    <div className={styles.lattice}>
      <p className={styles.latticeTotal} aria-live="polite" aria-busy={audit.pending}>
        <strong>
          {sayNumber(lines.pairs)} of {sayNumber(lines.possible)}
        </strong>{" "}
        pairs of students from different groups of {plan.layers[lines.layerId]?.name} see each other somewhere
        {lines.possible > 0 && `, ${percent(lines.pairs / lines.possible)}`}.
        {scope !== null && (
          <strong className={styles.within}>
            {" "}
            Within your scope: of the students you were given, and nobody else.
          </strong>
        )}
        {at && cell && (
          <span className={base.soft}>
            {" "}
            {groups[at[0]]?.name} and {groups[at[1]]?.name}: {sayNumber(cell.pairs)} of {sayNumber(cell.possible)}
          </span>
        )}
      </p>
      <div className={styles.latticeScroll}>
        <table className={styles.latticeTable}>
          <thead>
            <tr>
              <td />
              {groups.map((group) => (
                <th key={group.id} scope="col" title={group.name}>
                  <Stripe stripe={group.stripe} isPrivate={isPrivate} />
                  <span className="visually-hidden">{group.name}</span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {groups.map((group, row) => (
              <tr key={group.id}>
                <th scope="row">
                  <GroupName group={group} isShort={groups.length > 16} />
                </th>
                {groups.map((other, column) => {
                  const one = matrix[row]?.[column];
                  if (row === column || !one || one.possible === 0)
                    return (
                      <td
                        key={other.id}
                        className={styles.latticeSame}
                        aria-label={row === column ? "the same group" : "no pairs"}
                      />
                    );
                  const share = one.pairs / one.possible;
                  return (
                    <td key={other.id}>
                      <button
                        type="button"
                        className={styles.latticeCell}
                        data-none={one.pairs === 0 || undefined}
                        style={{ "--share": share } as React.CSSProperties}
                        aria-label={`${group.name} and ${other.name}: ${sayNumber(one.pairs)} of ${sayNumber(one.possible)} pairs, ${percent(share)}`}
                        onClick={() => setAt([row, column])}
                        onFocus={() => setAt([row, column])}
                      >
                        {groups.length <= 12 && (one.pairs === 0 ? "none" : percent(share))}
                      </button>
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Surfaces surfaces={lines.surfaces} choose={(key) => choose(`sightline/${lines.layerId}/${key}`)} />
    </div>
  );
}

function Surfaces({ surfaces, choose }: { surfaces: SeenSurface[]; choose(key: string): void }) {
  const audit = useFindings();
  if (surfaces.length === 0)
    return <p className={base.holds}>No surface brings students of different groups together.</p>;
  const accepted = new Set(
    audit.findings.filter((one) => one.accepted).map(({ key }) => key.split("/").slice(2).join("/")),
  );
  return (
    <table className={base.table}>
      <thead>
        <tr>
          <th>Where they meet</th>
          <th className={base.number}>Pairs</th>
          <th className={base.number}>Nowhere else</th>
          <th>State</th>
        </tr>
      </thead>
      <tbody>
        {surfaces.map(({ surface, pairs, alone }) => (
          <tr key={surface.key}>
            <td>
              <button type="button" className={base.plainButton} onClick={() => choose(surface.key)}>
                {surface.says}
              </button>
            </td>
            <td className={base.number}>{sayNumber(pairs)}</td>
            <td className={base.number}>{sayNumber(alone)}</td>
            <td className={base.soft}>{accepted.has(surface.key) ? "let stand" : ""}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
