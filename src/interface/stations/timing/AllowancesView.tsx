import { useState } from "react";
import { v7 } from "uuid";
import { compareText, lookup, targetName } from "../../../core/plan/lookup.ts";
import type { Allowance, Target } from "../../../core/plan/types.ts";
import { countBits } from "../../../core/sets/bits.ts";
import { sayAllowance } from "../../../core/timing/commands.ts";
import { Button } from "../../kit/Button.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { TextField } from "../../kit/Fields.tsx";
import { SubmitForm } from "../../kit/SubmitForm.tsx";
import { plural } from "../../kit/words.ts";
import { useReach, useWorkbench, Why } from "../../workbench/context.tsx";
import { useMay } from "../../workbench/may.tsx";
import base from "../station.module.css";
import { TargetStripe, Targets } from "../Targets.tsx";
import styles from "./timing.module.css";

/** Standing adjustments that follow a group or a person everywhere. */
export function AllowancesView() {
  const { store, plan } = useWorkbench();
  const reach = useReach();
  const maySet = useMay("set allowances");
  const [dialog, setDialog] = useState<Allowance | "new" | null>(null);
  const rows = lookup(plan)
    .allowances.map((allowance) => ({
      allowance,
      name: targetName(plan, allowance.target),
      count: countBits(reach.members(allowance.target)),
    }))
    .sort((a, b) => compareText(a.name, b.name));
  return (
    <>
      <div className={base.bar}>
        <span>{plural(rows.length, "allowance")}</span>
        <span className={base.push} />
        {maySet && (
          <Button strong onPress={() => setDialog("new")}>
            New allowance
          </Button>
        )}
      </div>
      {rows.length === 0 ? (
        <div className={base.empty}>
          <h3>Nobody has an allowance</h3>
          <p className={base.soft}>
            Half as much time again, three days more, one attempt more: said once for a group or a student, it holds on
            every item that has such a limit.
          </p>
        </div>
      ) : (
        <section className={base.scroll} aria-label="Allowances">
          <table className={base.table}>
            <thead className={styles.stickyHead}>
              <tr>
                <th>For</th>
                <th className={base.number}>Students</th>
                <th>Gives</th>
                <th>
                  <span className="visually-hidden">Change or remove</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {rows.map(({ allowance, name, count }) => (
                <tr key={allowance.id}>
                  <td>
                    <TargetStripe target={allowance.target} /> {name}
                  </td>
                  <td className={base.number}>{count}</td>
                  <td>{sayAllowance(allowance)}</td>
                  <td className={styles.rowEnd}>
                    {maySet && (
                      <>
                        <Button
                          quiet
                          onPress={() => setDialog(allowance)}
                          aria-label={`Change the allowance for ${name}`}
                        >
                          Change
                        </Button>
                        <Button
                          quiet
                          onPress={() => store.draft([{ kind: "allowance.remove", allowanceId: allowance.id }])}
                          aria-label={`Remove the allowance for ${name}`}
                        >
                          Remove
                        </Button>
                      </>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      {dialog && <AllowanceDialog allowance={dialog === "new" ? null : dialog} onClose={() => setDialog(null)} />}
      <Why>
        <section>
          <h3 className={base.whyTitle}>Allowances</h3>
          <p>
            Where several reach a student, the largest of each kind holds. Minutes are multiplied and rounded up, due
            and closes move by whole days, attempts are added. A date of a student's own, and "none", stay as they are.
          </p>
          <p className={base.soft}>To students such dates are simply theirs: nobody is told of an allowance.</p>
        </section>
      </Why>
    </>
  );
}

const factorFits = (text: string) =>
  text.trim() === "" || (/^\d{1,2}([.,]\d{1,4})?$/.test(text.trim()) && Number(text.replace(",", ".")) > 1);
const wholeFits = (text: string, most: number) =>
  text.trim() === "" || (/^\d+$/.test(text.trim()) && Number(text) >= 1 && Number(text) <= most);
const whole = (text: string) => (text.trim() === "" ? null : Number(text));

interface AllowanceDialogProps {
  /** The one that is changed; null for a new one. */
  allowance: Allowance | null;
  /** Whom a new one is for, where that is known. */
  for?: Target;
  onClose(): void;
}
export function AllowanceDialog({ allowance, for: whom, onClose }: AllowanceDialogProps) {
  const { store, plan } = useWorkbench();
  const [targets, setTargets] = useState<Target[]>(allowance ? [allowance.target] : whom ? [whom] : []);
  const [factor, setFactor] = useState(allowance?.minutesFactor ?? "");
  const [days, setDays] = useState(allowance?.extraDays ? String(allowance.extraDays) : "");
  const [attempts, setAttempts] = useState(allowance?.extraAttempts ? String(allowance.extraAttempts) : "");
  const fits = factorFits(factor) && wholeFits(days, 365) && wholeFits(attempts, 100);
  const gives = [factor, days, attempts].some((text) => text.trim() !== "");
  const draft = () => {
    const amounts = {
      minutesFactor: factor.trim() === "" ? null : factor.trim().replace(",", "."),
      extraDays: whole(days),
      extraAttempts: whole(attempts),
    };
    const commands = targets.map((target) => ({
      kind: "allowance.set" as const,
      allowance: { id: allowance?.id ?? v7(), target, ...amounts },
    }));
    if (store.draft(commands)) onClose();
  };
  return (
    <Dialog
      title={allowance ? `Allowance for ${targetName(plan, allowance.target)}` : "New allowance"}
      onClose={onClose}
    >
      <SubmitForm onSubmit={draft}>
        {!allowance && <Targets label="For groups, sections or students" targets={targets} onChange={setTargets} />}
        <TextField
          label="Minutes, times"
          value={factor}
          onChange={setFactor}
          placeholder="1.5"
          hint="1.5 is half as much time again"
          inputMode="decimal"
          error={!factorFits(factor) && "A factor is a number above 1, such as 1.5."}
        />
        <TextField
          label="Days more, for due and closes"
          value={days}
          onChange={setDays}
          inputMode="numeric"
          error={!wholeFits(days, 365) && "Days are a whole number from 1 to 365."}
        />
        <TextField
          label="Attempts more"
          value={attempts}
          onChange={setAttempts}
          inputMode="numeric"
          error={!wholeFits(attempts, 100) && "Attempts are a whole number from 1 to 100."}
        />
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={!fits || !gives || targets.length === 0}>
            Draft the allowance
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
