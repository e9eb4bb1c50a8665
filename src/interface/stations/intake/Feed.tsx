import { useCallback, useState } from "react";
import * as api from "../../../api/intake.ts";
import { sayInstant } from "../../../core/clock/local-time.ts";
import { Button } from "../../kit/Button.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { Checkbox, TextField } from "../../kit/Fields.tsx";
import { useEffectWhen } from "../../kit/when.ts";
import { useWorkbench } from "../../workbench/context.tsx";
import { ask, isFailure } from "../../workbench/fetch.ts";
import base from "../station.module.css";
import { Wrong } from "../Wrong.tsx";
import styles from "./intake.module.css";
import type { IntakeState } from "./useIntake.ts";

/** The registrar's service: pull now, what waits, and how it is set up. */
export function Feed({ intake }: { intake: IntakeState }) {
  const { store, plan } = useWorkbench();
  const [known, setKnown] = useState<api.Feed | null>(null);
  const [pulling, setPulling] = useState(false);
  const [settingUp, setSettingUp] = useState(false);
  const fetchFeed = useCallback(async () => {
    const answer = await ask(store.address, api.readFeed);
    if (!isFailure(answer)) setKnown(answer);
  }, [store]);
  // An intake that was applied settles a pull.
  useEffectWhen([fetchFeed, intake.past], () => void fetchFeed());
  if (!known?.available) return null;
  const { feed, pulls, trouble } = known;
  const waiting = pulls.find(({ state }) => state === "waiting");
  const last = pulls[0];
  const pullNow = async () => {
    setPulling(true);
    const answer = await ask(store.address, api.pullRoster);
    setPulling(false);
    await fetchFeed();
    if (isFailure(answer)) return store.tell("wrong", answer.detail);
    if (answer.state === "applied") {
      await Promise.all([store.load(), intake.fetchPast()]);
      store.tell("done", `Pulled: ${answer.says}.`);
    } else await intake.takePull(answer.id);
  };
  const putAway = async (id: string) => {
    await ask(store.address, api.putPullAway, { params: { pull: id } });
    await fetchFeed();
  };
  return (
    <section aria-label="From the registrar" className={styles.feed}>
      <div>
        <h3 className={styles.part}>From the registrar</h3>
        <Wrong>{trouble}</Wrong>
        <p className={base.soft}>
          {!feed || feed.classes.length === 0
            ? "Choose which of the registrar's classes make up this course, and rosters come at a press or every night."
            : [
                `Draws on ${feed.classes.length} ${feed.classes.length === 1 ? "class" : "classes"}`,
                feed.nightlyAt ? `pulls nightly at ${feed.nightlyAt}` : "pulls at a press",
                feed.appliesItself
                  ? `applies by itself while at most ${feed.leavingPercent} % leave, ${feed.joiningPercent} % join and nothing clashes`
                  : "waits for you to look",
              ].join(", ")}
        </p>
        {waiting ? (
          <p>
            Pulled {sayInstant(waiting.at, plan.course.timeZone)}: {waiting.says}.
          </p>
        ) : (
          last && (
            <p className={last.state === "failed" ? base.wrong : ""}>
              {sayInstant(last.at, plan.course.timeZone)}: {last.says}
            </p>
          )
        )}
      </div>
      <div className={base.bar}>
        {waiting && (
          <>
            <Button strong onPress={() => intake.takePull(waiting.id)}>
              Look at it
            </Button>
            <Button onPress={() => putAway(waiting.id)}>Put it away</Button>
          </>
        )}
        {feed && feed.classes.length > 0 && (
          <Button isDisabled={pulling} onPress={pullNow}>
            {pulling ? "Pulling" : "Pull now"}
          </Button>
        )}
        <Button onPress={() => setSettingUp(true)}>Set up</Button>
      </div>
      {settingUp && (
        <SetUp
          known={known}
          onClose={() => {
            setSettingUp(false);
            void fetchFeed();
          }}
        />
      )}
    </section>
  );
}

const percentOf = (text: string): number => Number(text.replace(",", "."));

function SetUp({ known, onClose }: { known: api.Feed; onClose(): void }) {
  const { store } = useWorkbench();
  const [classes, setClasses] = useState(known.feed?.classes ?? []);
  const [nightly, setNightly] = useState(known.feed?.nightlyAt ?? "");
  const [appliesItself, setAppliesItself] = useState(known.feed?.appliesItself ?? false);
  const [leaving, setLeaving] = useState(String(known.feed?.leavingPercent ?? 5));
  const [joining, setJoining] = useState(String(known.feed?.joiningPercent ?? 25));
  const [wrong, setWrong] = useState<string | null>(null);
  const save = async () => {
    const leavingPercent = percentOf(leaving);
    const joiningPercent = percentOf(joining);
    if (!(leavingPercent >= 0 && leavingPercent <= 100))
      return setWrong("The limit of those who leave is a number from 0 to 100.");
    if (!(joiningPercent >= 0 && joiningPercent <= 1000))
      return setWrong("The limit of those who join is a number from 0 to 1000.");
    if (nightly !== "" && !/^([01]\d|2[0-3]):[0-5]\d$/.test(nightly))
      return setWrong("The time is written as 02:30, or left empty to pull at a press only.");
    const answer = await ask(store.address, api.setFeed, {
      body: { classes, nightlyAt: nightly || null, appliesItself, leavingPercent, joiningPercent },
    });
    if (isFailure(answer)) setWrong(answer.detail);
    else onClose();
  };
  return (
    <Dialog title="Rosters from the registrar" onClose={onClose}>
      {known.trouble && <p className={base.wrong}>{known.trouble}</p>}
      <fieldset className={styles.classes}>
        <legend>Classes of this course</legend>
        {known.classes.map(({ id, code, title, meets }) => (
          <Checkbox
            key={id}
            isSelected={classes.includes(id)}
            onChange={(on) => setClasses(on ? [...classes, id] : classes.filter((other) => other !== id))}
          >
            {code} {title}
            {meets && <span className={base.soft}> {meets}</span>}
          </Checkbox>
        ))}
      </fieldset>
      <TextField
        label="Every night at"
        hint="For example 02:30; empty: at a press only."
        value={nightly}
        onChange={setNightly}
      />
      <Checkbox isSelected={appliesItself} onChange={setAppliesItself}>
        Apply by itself within limits
      </Checkbox>
      {appliesItself && (
        <TextField
          label="At most this many per cent of the students leaving"
          hint="It also waits for you when logins clash, rows cannot be used, or sections are new."
          value={leaving}
          onChange={setLeaving}
        />
      )}
      {appliesItself && (
        <TextField
          label="At most this many per cent of the students joining"
          hint="50: half as many again as there are."
          value={joining}
          onChange={setJoining}
        />
      )}
      <Wrong>{wrong}</Wrong>
      <Actions>
        <Button onPress={onClose}>Cancel</Button>
        <Button strong onPress={save}>
          Save
        </Button>
      </Actions>
    </Dialog>
  );
}
