import { useState } from "react";
import { wallOf } from "../../../core/clock/local-time.ts";
import type { Target } from "../../../core/plan/types.ts";
import { listBits } from "../../../core/sets/bits.ts";
import { Button } from "../../kit/Button.tsx";
import { DateTime } from "../../kit/DateTime.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { Checkbox } from "../../kit/Fields.tsx";
import { SubmitForm } from "../../kit/SubmitForm.tsx";
import { plural } from "../../kit/words.ts";
import { useReach, useWorkbench } from "../../workbench/context.tsx";
import { Person } from "../Person.tsx";
import base from "../station.module.css";
import { OneTarget } from "../Targets.tsx";
import styles from "./items/items.module.css";

/** Any student at any moment, alone or beside another student or moment. */
export function LookDialog({ onClose }: { onClose(): void }) {
  const { store, plan, t } = useWorkbench();
  const reach = useReach();
  const wall = wallOf(t, plan.course.timeZone);
  const [left, setLeft] = useState<{ target: Target | null; at: string }>({ target: null, at: wall });
  const [right, setRight] = useState<Other | null>(null);
  const [drafted, setDrafted] = useState(true);
  // Of a group or section the first student, with the way to the next.
  const among = left.target ? listBits(reach.members(left.target)) : [];
  const first = among[0] === undefined ? undefined : reach.students[among[0]];
  const look = () => {
    if (!first || !left.target) return;
    const { kind, id } = left.target;
    const search = new URLSearchParams(drafted ? { draft: "1" } : {});
    if (!right) {
      search.set("wall", left.at);
      if (kind !== "person") search.set("of", `${kind} ${id}`);
    } else {
      search.set("a", first);
      search.set("aw", left.at);
      search.set("b", right.personId ?? first);
      search.set("bw", right.at);
    }
    open(`/look/${store.courseId}/${right ? "beside" : first}?${search}`, "_blank", "noreferrer");
    onClose();
  };
  return (
    <Dialog title="Look through a student's eyes" onClose={onClose}>
      <SubmitForm onSubmit={look}>
        <div className={styles.pair}>
          <OneTarget
            label="Student, group or section"
            target={left.target}
            onChange={(target) => setLeft({ ...left, target })}
          />
          <DateTime label="At" value={left.at} onChange={(at) => setLeft({ ...left, at: at ?? wall })} isRequired />
        </div>
        <Checkbox
          isSelected={right !== null}
          onChange={(beside) => setRight(beside ? { personId: first ?? null, at: left.at } : null)}
        >
          Beside another student or moment
        </Checkbox>
        {right && <Other other={right} setOther={setRight} />}
        <Checkbox isSelected={drafted} onChange={setDrafted}>
          As drafted
        </Checkbox>
        {left.target && left.target.kind !== "person" && <FirstOf count={among.length} />}
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={!first}>
            Look
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}

const FirstOf = ({ count }: { count: number }) => (
  <p className={base.soft}>
    {count > 0
      ? `The first of ${plural(count, "student")}, with a step to the next.`
      : "No student is in it at this moment."}
  </p>
);

/** Who is looked through beside, and when. */
interface Other {
  personId: string | null;
  at: string;
}

function Other({ other, setOther }: { other: Other; setOther(other: Other): void }) {
  return (
    <div className={styles.pair}>
      <Person
        label="Other student"
        personId={other.personId}
        onChange={(personId) => setOther({ ...other, personId })}
      />
      <DateTime
        label="Other moment"
        value={other.at}
        onChange={(at) => setOther({ ...other, at: at ?? other.at })}
        isRequired
      />
    </div>
  );
}
