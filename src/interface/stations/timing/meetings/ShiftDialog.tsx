import { useMemo, useState } from "react";
import { sayInstant, sayWall, wallOf } from "../../../../core/clock/local-time.ts";
import { targetName } from "../../../../core/plan/lookup.ts";
import { type Offer, shiftCommands, shiftOf } from "../../../../core/timing/moving/shift.ts";
import type { MeetingOwner } from "../../../../core/timing/owners.ts";
import { Button } from "../../../kit/Button.tsx";
import { DateTime } from "../../../kit/DateTime.tsx";
import { Actions, Dialog } from "../../../kit/Dialog.tsx";
import { Choice } from "../../../kit/Fields.tsx";
import { RowCheck } from "../../../kit/RowCheck.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { plural } from "../../../kit/words.ts";
import { useReach, useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import { fieldNames } from "../sayValue.ts";
import styles from "../timing.module.css";

const keyOf = ({ item, field }: Offer) => `${item.id}/${field}`;

/** A meeting falls out or takes place at another time: what moves with it, and what is offered to move, in one look. */
export function ShiftDialog({ owner, number, onClose }: { owner: MeetingOwner; number: number; onClose(): void }) {
  const { store, plan } = useWorkbench();
  const reach = useReach();
  const [how, setHow] = useState<"lost" | "moved">("lost");
  const [to, setTo] = useState<string | null>(null);
  const [decided, setDecided] = useState<ReadonlyMap<string, boolean>>(new Map());
  const shift = useMemo(
    () => shiftOf(reach, owner.id, number, how === "moved" ? to : null),
    [reach, owner.id, number, how, to],
  );
  if (!shift) return null;
  const { lost, anchored, offers } = shift;
  const takes = (offer: Offer) => decided.get(keyOf(offer)) ?? offer.moves;
  const waits = how === "moved" && to === null;
  const draft = () => {
    if (!waits && store.draft(shiftCommands(shift, new Set(offers.filter(takes))))) onClose();
  };
  return (
    <Dialog
      title={`Meeting ${number} of ${owner.name}, ${sayInstant(lost.start, plan.course.timeZone)}`}
      onClose={onClose}
      wide
    >
      <SubmitForm onSubmit={draft}>
        <div className={base.bar}>
          <Choice
            label="What happens to it"
            value={how}
            onChange={setHow}
            options={[
              { value: "lost", label: "falls out: there is no class that day" },
              { value: "moved", label: "takes place at another time" },
            ]}
          />
          {how === "moved" && <DateTime label="Takes place" value={to} onChange={setTo} />}
          {how === "moved" && to === null && (
            <Button quiet onPress={() => setTo(wallOf(lost.start, plan.course.timeZone))}>
              From its own time
            </Button>
          )}
        </div>
        {!waits && (
          <div className={styles.shift}>
            <h3>
              {anchored.length === 0
                ? "No date is given as a meeting that changes"
                : `${plural(anchored.length, "date")} given as class meetings ${anchored.length === 1 ? "moves" : "move"} with them`}
            </h3>
            {anchored.length > 0 && (
              <table className={base.table}>
                <tbody>
                  {anchored.map(({ item, field, before, after }) => (
                    <tr key={`${item.id} ${field}`}>
                      <td>{item.title}</td>
                      <td>{fieldNames[field]}</td>
                      <td>
                        <s>{sayWall(before)}</s>
                      </td>
                      <td className={after === null ? base.wrong : ""}>
                        {after === null ? "no such meeting any more" : sayWall(after)}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
            {how === "lost" && (
              <h3>{offers.length === 0 ? "No other date lies after it" : "Other dates after it: which move too?"}</h3>
            )}
            {offers.length > 0 && (
              <table className={base.table}>
                <thead>
                  <tr>
                    <th>Moves</th>
                    <th>Item</th>
                    <th>
                      <span className="visually-hidden">Field</span>
                    </th>
                    <th>Now</th>
                    <th>A meeting later</th>
                    <th>Why</th>
                  </tr>
                </thead>
                <tbody>
                  {offers.map((offer) => (
                    <tr key={keyOf(offer)}>
                      <td>
                        {offer.after !== null && (
                          <RowCheck
                            label={`Move ${fieldNames[offer.field].toLowerCase()} of ${offer.item.title}`}
                            isSelected={takes(offer)}
                            onChange={(is) => setDecided(new Map(decided).set(keyOf(offer), is))}
                          />
                        )}
                      </td>
                      <td>{offer.item.title}</td>
                      <td>{fieldNames[offer.field]}</td>
                      <td>{sayWall(offer.before)}</td>
                      <td>
                        {offer.after === null ? "" : sayWall(offer.after)}
                        {offer.target.kind === "group" && (
                          <span className={base.soft}> for {targetName(plan, offer.target)}</span>
                        )}
                      </td>
                      <td className={base.soft}>{offer.why}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
          </div>
        )}
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={waits}>
            Draft it
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
