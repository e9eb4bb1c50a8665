import { useState } from "react";
import { sayWall } from "../../../../core/clock/local-time.ts";
import { moveCommands, movesOf, type Step } from "../../../../core/timing/moving/moving.ts";
import { momentFields } from "../../../../core/timing/resolving/resolve.ts";
import { Button } from "../../../kit/Button.tsx";
import { Actions, Dialog } from "../../../kit/Dialog.tsx";
import { Checkbox, Choice } from "../../../kit/Fields.tsx";
import { NumberField } from "../../../kit/NumberField.tsx";
import { Rows } from "../../../kit/Rows.tsx";
import { Stripe } from "../../../kit/Stripe.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { useMemoWhen } from "../../../kit/when.ts";
import { plural } from "../../../kit/words.ts";
import { useReach, useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import { fieldNames } from "../sayValue.ts";
import styles from "../timing.module.css";
import type { Bar } from "./model.ts";

/** Several bars moved by days or meetings: every date before and after, before anything is drafted. */
export function MoveDialog({ bars, onClose }: { bars: Bar[]; onClose(): void }) {
  const { store, plan } = useWorkbench();
  const reach = useReach();
  const [count, setCount] = useState(1);
  const [unit, setUnit] = useState<Step["unit"]>("meetings");
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const fields = momentFields.filter((field) => !left.has(field));
  const key = fields.join();
  // The fields' names say which.
  const moves = useMemoWhen([reach, bars, unit, count, key], () => movesOf(reach, bars, { unit, count }, fields));
  const going = moves.filter(({ after }) => after !== null);
  const draft = () => {
    if (going.length > 0 && store.draft(moveCommands(going))) onClose();
  };
  return (
    <Dialog title={`Move ${plural(bars.length, "bar")}`} onClose={onClose} wide>
      <SubmitForm onSubmit={draft}>
        <div className={base.anchor}>
          <span>By</span>
          <NumberField label="How many" value={count} least={-100} most={100} onChange={setCount} />
          <Choice
            label="Days or meetings"
            hideLabel
            value={unit}
            onChange={setUnit}
            options={[
              { value: "meetings", label: "class meetings" },
              { value: "days", label: "days with class" },
            ]}
          />
          {momentFields.map((field) => (
            <Checkbox
              key={field}
              isSelected={!left.has(field)}
              onChange={(is) => {
                const next = new Set(left);
                if (is) next.delete(field);
                else next.add(field);
                setLeft(next);
              }}
            >
              {fieldNames[field]}
            </Checkbox>
          ))}
        </div>
        <p className={base.soft}>
          Days without class are skipped. A date given as a class meeting stays one; below zero moves earlier.
        </p>
        <Rows count={moves.length} label="Dates before and after" upTo="44vh">
          {(index) => {
            const { item, group, field, before, after, stays } = moves[index] as (typeof moves)[number];
            return (
              <div className={base.line}>
                <Stripe stripe={group.stripe} isPrivate={plan.layers[group.layerId]?.private} />
                <span className={`${base.cut} ${styles.moveItem}`}>
                  {item.title}, {fieldNames[field].toLowerCase()}
                </span>
                <s>{sayWall(before)}</s>
                {after ? <strong>{sayWall(after.wall)}</strong> : <span className={base.wrong}>stays: {stays}</span>}
              </div>
            );
          }}
        </Rows>
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={going.length === 0}>
            Draft {plural(going.length, "date")}
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
