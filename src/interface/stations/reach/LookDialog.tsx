import { useState } from "react";
import { wallOf } from "../../../core/timing/wall.ts";
import { useBench } from "../../bench/context.tsx";
import { Button } from "../../kit/Button.tsx";
import { DateTime } from "../../kit/DateTime.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { Checkbox } from "../../kit/Fields.tsx";
import { SubmitForm } from "../../kit/SubmitForm.tsx";
import { Person } from "../Person.tsx";
import styles from "./items/items.module.css";

/** Any student at any moment, alone or beside another student or moment. */
export function LookDialog({ onClose }: { onClose(): void }) {
  const { store, plan, t } = useBench();
  const wall = wallOf(t, plan.course.timeZone);
  const [left, setLeft] = useState<{ personId: string | null; at: string }>({ personId: null, at: wall });
  const [right, setRight] = useState<typeof left | null>(null);
  const [drafted, setDrafted] = useState(true);
  const look = () => {
    if (!left.personId) return;
    const search = new URLSearchParams(drafted ? { draft: "1" } : {});
    if (!right) search.set("wall", left.at);
    else {
      search.set("a", left.personId);
      search.set("aw", left.at);
      search.set("b", right.personId ?? left.personId);
      search.set("bw", right.at);
    }
    open(`/look/${store.courseId}/${right ? "beside" : left.personId}?${search}`, "_blank", "noreferrer");
    onClose();
  };
  return (
    <Dialog title="Look through a student's eyes" onClose={onClose}>
      <SubmitForm onSubmit={look}>
        <div className={styles.pair}>
          <Person label="Student" personId={left.personId} onChange={(personId) => setLeft({ ...left, personId })} />
          <DateTime label="At" value={left.at} onChange={(at) => setLeft({ ...left, at: at ?? wall })} isRequired />
        </div>
        <Checkbox isSelected={right !== null} onChange={(beside) => setRight(beside ? left : null)}>
          Beside another student or moment
        </Checkbox>
        {right && (
          <div className={styles.pair}>
            <Person
              label="Other student"
              personId={right.personId}
              onChange={(personId) => setRight({ ...right, personId })}
            />
            <DateTime
              label="Other moment"
              value={right.at}
              onChange={(at) => setRight({ ...right, at: at ?? wall })}
              isRequired
            />
          </div>
        )}
        <Checkbox isSelected={drafted} onChange={setDrafted}>
          As drafted
        </Checkbox>
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={left.personId === null}>
            Look
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
