import { useEffect, useLayoutEffect, useRef } from "react";
import { sayInstant } from "../../../../core/clock/local-time.ts";
import { sayMark } from "../../../../core/gradebook/entry.ts";
import { fullName } from "../../../../core/plan/lookup.ts";
import type { Item } from "../../../../core/plan/types.ts";
import { sayPoints } from "../../../../core/text/locale.ts";
import { resolveDates, resolvedInstant } from "../../../../core/timing/resolving/resolve.ts";
import { Button } from "../../../kit/Button.tsx";
import { TextField } from "../../../kit/Fields.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { Views } from "../../../kit/Views.tsx";
import { plural } from "../../../kit/words.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import { LookLink } from "../../LookLink.tsx";
import base from "../../station.module.css";
import { usePronouns } from "../../usePronouns.ts";
import { sayCell } from "../grid/say.ts";
import { HandedIn, useNames } from "./HandedIn.tsx";
import styles from "./marking.module.css";
import { type Held, useHolder, type WorkPaneProps } from "./useHolder.ts";
import { useWriting, type Writing } from "./useWriting.ts";

/** A hand-in and its mark side by side: points, a comment that is read by whom it is for, a note that only staff read. */
export function WorkPane(props: WorkPaneProps) {
  const { plan } = useWorkbench();
  const { item, personId, next, previous, sheet } = props;
  const held = useHolder(props);
  const writing = useWriting(props, held);
  const { go } = writing;
  const pronouns = usePronouns();
  const pane = useRef<HTMLDivElement>(null);
  useGoingKeys(go);
  // Before the next key arrives, and not after the page was painted. Whoever is in a field elsewhere stays there.
  useLayoutEffect(() => {
    const marking = pane.current?.closest("[data-marking]");
    const at = document.activeElement;
    if (!at || at === document.body || marking?.contains(at) || !at.matches(":focus-visible"))
      pane.current?.querySelector<HTMLInputElement>("input")?.focus();
  }, []);
  const person = plan.people[personId];
  const index = sheet.reach.indexOf.get(personId);
  const due =
    index === undefined ? null : resolvedInstant(plan, resolveDates(plan, item, sheet.reach.memberships(index)), "due");
  return (
    <div className={styles.pane} ref={pane}>
      <header className={styles.paneHead}>
        <h3>
          {person && fullName(person)}
          {pronouns(personId)}, {item.title}
        </h3>
        <p className={base.soft}>
          {sayCell(sheet.cell(item, personId), item)}
          {due !== null && `. Due for them ${sayInstant(due, plan.course.timeZone)}`}
        </p>
      </header>
      <HandedIn item={item} held={held} due={due} />
      <div className={styles.form}>
        <SubmitForm onSubmit={() => go("next")}>
          <Holder personId={personId} held={held} forget={writing.forget} />
          <Written item={item} held={held} writing={writing} />
          <div className={styles.paneActions}>
            <Button onPress={() => go("previous")} isDisabled={!previous}>
              Previous
            </Button>
            <Button onPress={() => go("next")} isDisabled={!next}>
              Next
            </Button>
            <Button quiet onPress={() => void writing.save(true)}>
              Excuse
            </Button>
            <span className={base.push} />
            <Button strong type="submit" isDisabled={!writing.dirty} aria-label={next ? "Store and go on" : "Store"}>
              {next ? "Store and go on" : "Store"}
            </Button>
          </div>
          <p className={base.soft}>
            Ctrl with Enter stores and goes on; Alt with an arrow goes on or back, and keeps what was typed.
          </p>
        </SubmitForm>
      </div>
      <LookLink personId={personId} itemId={item.id} />
    </div>
  );
}

/** Ctrl with Enter stores and goes on; Alt with an arrow goes on or back. */
function useGoingKeys(go: (to: "next" | "previous") => void): void {
  const latest = useRef(go);
  latest.current = go;
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key === "Enter") {
        event.preventDefault();
        latest.current("next");
      } else if (event.altKey && (event.key === "ArrowDown" || event.key === "ArrowUp")) {
        event.preventDefault();
        latest.current(event.key === "ArrowDown" ? "next" : "previous");
      }
    };
    addEventListener("keydown", listen);
    return () => removeEventListener("keydown", listen);
  }, []);
}

interface HolderProps {
  personId: string;
  held: Held;
  forget(): void;
}

/** Whom the mark is for, where work is shared. */
function Holder({ personId, held, forget }: HolderProps) {
  const { plan } = useWorkbench();
  const nameOf = useNames();
  const person = plan.people[personId];
  const { groupIds, groupId, holderId, setHolder, members } = held;
  return (
    <>
      {groupIds.length > 0 && (
        <Views
          label="The mark is for"
          value={holderId}
          onChange={(value) => {
            setHolder(value);
            forget();
          }}
          options={[
            ...groupIds.map((id) => ({ value: id, label: `all of ${plan.groups[id]?.name}` })),
            { value: personId, label: `${person?.givenName} ${person?.familyName} alone` },
          ]}
        />
      )}
      {groupId && (
        <p className={base.soft}>
          Goes to {plural(members.length, "member")} as of the hand-in: {members.map(nameOf).join("; ")}. A mark of
          their own beats it.
        </p>
      )}
    </>
  );
}

function Written({ item, held, writing }: { item: Item; held: Held; writing: Writing }) {
  const { plan } = useWorkbench();
  const { remark, work, mark, groupId } = held;
  const { typed, comment, note, wrong, write } = writing;
  return (
    <>
      <TextField
        label={`Mark, of ${sayPoints(item.points ?? 0)}`}
        value={typed ?? sayMark(mark)}
        onChange={(value) => write({ typed: value })}
        error={wrong}
        inputMode="decimal"
      />
      <TextField
        label={groupId ? "Comment, for all of the group" : "Comment, for the student"}
        value={comment ?? remark?.comment ?? ""}
        onChange={(value) => write({ comment: value })}
        lines={4}
        isDisabled={!work}
      />
      <TextField
        label="Note, for staff alone"
        value={note ?? remark?.note ?? ""}
        onChange={(value) => write({ note: value })}
        lines={2}
        isDisabled={!work}
        hint={
          remark && remark.at > 0
            ? `Last written ${sayInstant(remark.at, plan.course.timeZone)} by ${remark.by}.`
            : undefined
        }
      />
    </>
  );
}
