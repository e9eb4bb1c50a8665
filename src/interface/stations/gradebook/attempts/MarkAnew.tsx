/** Attempts marked by what is called right now: each total before and after is looked at first. */
import { useState } from "react";
import * as api from "../../../../api/attempts.ts";
import { fullName } from "../../../../core/plan/lookup.ts";
import type { Item } from "../../../../core/plan/types.ts";
import { sayPoints } from "../../../../core/text/locale.ts";
import { Button } from "../../../kit/Button.tsx";
import { Actions, Dialog } from "../../../kit/Dialog.tsx";
import { Rows } from "../../../kit/Rows.tsx";
import { plural } from "../../../kit/words.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import { ask, isFailure } from "../../../workbench/fetch.ts";
import base from "../../station.module.css";

export function MarkAnew({ item, onKept }: { item: Item; onKept(): void }) {
  const { plan, store } = useWorkbench();
  const [changes, setChanges] = useState<api.Anew[] | null>(null);
  const asking = async (keep: boolean) => {
    const answer = await ask(store.address, api.markAnew, { params: { item: item.id }, body: { keep } });
    if (isFailure(answer)) store.tell("wrong", answer.detail);
    else if (!keep) setChanges(answer);
    else {
      store.tell("done", `${plural(answer.length, "attempt")} marked anew.`);
      setChanges(null);
      onKept();
    }
  };
  const nameOf = (id: string) => {
    const person = plan.people[id];
    return person ? fullName(person) : (plan.groups[id]?.name ?? "Somebody");
  };
  const say = (points: number | null) => (points === null ? "to be marked" : sayPoints(points));
  return (
    <>
      <Button quiet onPress={() => void asking(false)}>
        Mark anew
      </Button>
      {changes && (
        <Dialog title={`Mark ${item.title} anew`} onClose={() => setChanges(null)}>
          <p className={base.soft}>
            {changes.length === 0
              ? "By what is called right now, every attempt stays as it is."
              : `By what is called right now ${plural(changes.length, "attempt changes", "attempts change")}; nothing has changed yet.`}
          </p>
          <Rows count={changes.length} label="Attempts that change" upTo="40vh">
            {(index) => {
              const one = changes[index] as api.Anew;
              return (
                <div className={base.line}>
                  <span className={base.cut}>{nameOf(one.holderId)}</span>
                  <span className={base.push}>
                    {say(one.before)} → {say(one.after)} of {sayPoints(item.points ?? 0)}
                  </span>
                </div>
              );
            }}
          </Rows>
          <Actions>
            <Button onPress={() => setChanges(null)}>Leave</Button>
            <Button strong isDisabled={changes.length === 0} onPress={() => void asking(true)}>
              Mark anew
            </Button>
          </Actions>
        </Dialog>
      )}
    </>
  );
}
