/** For whoever on the staff was given nobody yet: who can give them somebody, and a press to ask. */
import { useEffect, useState } from "react";
import { v7 } from "uuid";
import * as messages from "../../api/messages.ts";
import * as api from "../../api/staff.ts";
import { sayInstant } from "../../core/clock/local-time.ts";
import { askingSubject } from "../../core/messages/to-staff.ts";
import { Button } from "../kit/Button.tsx";
import { TextField } from "../kit/Fields.tsx";
import { SubmitForm } from "../kit/SubmitForm.tsx";
import { useParts, useWorkbench } from "./context.tsx";
import { ask, isFailure } from "./fetch.ts";
import styles from "./frame.module.css";

/** Whether somebody on the staff has no student here. */
export function useHasNobody(): boolean {
  const { scope, published } = useParts("scope", "published");
  return scope !== null && !Object.values(published.enrolments).some(({ role }) => role === "student");
}

const names = (all: readonly string[]) => new Intl.ListFormat("en-GB", { type: "disjunction" }).format(all);

export function NobodyYet() {
  const { store, plan } = useWorkbench();
  const { scope } = useParts("scope");
  const [text, setText] = useState("");
  const [asked, setAsked] = useState<number | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const [id, setId] = useState(() => v7());
  useEffect(() => {
    void ask(store.address, messages.readMessages).then((answer) => {
      if (!isFailure(answer)) setAsked(answer.find(({ subject }) => subject === askingSubject)?.at ?? null);
    });
  }, [store]);
  if (scope === null) return null;
  const codes = scope.sectionIds.flatMap((one) => plan.sections[one]?.code ?? []);
  const groups = scope.groupIds.flatMap((one) => plan.groups[one]?.name ?? []);
  const given = [...codes, ...groups];
  const send = async () => {
    const answer = await ask(store.address, api.askForStudents, { body: { id, text } });
    if (isFailure(answer)) return setWrong(answer.detail);
    setWrong(null);
    setAsked(answer.at);
    setText("");
    setId(v7());
  };
  return (
    <section className={styles.nobody} aria-labelledby="nobody">
      <h2 id="nobody">You were given nobody yet</h2>
      {given.length > 0 ? (
        <p>
          {new Intl.ListFormat("en-GB").format(given)} {given.length === 1 ? "has" : "have"} no students yet. They stand
          here as soon as there are some.
        </p>
      ) : (
        <p>
          {names(scope.coordinators)} can give you the sections and groups whose students you are here for. Then you
          read and mark their work, write to them and give them more time, and see nobody else.
        </p>
      )}
      {asked !== null && <p role="status">You asked on {sayInstant(asked, plan.course.timeZone)}.</p>}
      <SubmitForm onSubmit={() => void send()}>
        <TextField
          label="Whom you are here for, if you like to say"
          lines={3}
          value={text}
          onChange={setText}
          error={wrong}
        />
        <Button strong type="submit">
          {asked === null ? `Ask ${names(scope.coordinators)}` : "Ask again"}
        </Button>
      </SubmitForm>
    </section>
  );
}
