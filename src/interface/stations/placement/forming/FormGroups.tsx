import { useCallback, useMemo, useState } from "react";
import { ProgressBar } from "react-aria-components";
import { v7 } from "uuid";
import type { Formed, Unformed } from "../../../../core/placement/forming/form.ts";
import { formingInput, nameOf } from "../../../../core/placement/forming/input.ts";
import { formedGroups, formedNames } from "../../../../core/placement/forming/keep.ts";
import { sayHard } from "../../../../core/placement/forming/say.ts";
import { type Forming, plainForming } from "../../../../core/plan/forming.ts";
import { lookup } from "../../../../core/plan/lookup.ts";
import { blankLayer, type Layer } from "../../../../core/plan/types.ts";
import { sayDecimal } from "../../../../core/text/locale.ts";
import { Button } from "../../../kit/Button.tsx";
import { Choice, TextField } from "../../../kit/Fields.tsx";
import { plural } from "../../../kit/words.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import styles from "./forming.module.css";
import { Tries, type Try } from "./Tries.tsx";
import { useForming } from "./useForming.ts";
import { Wishes } from "./Wishes.tsx";

/** Where forming begins: with the wishes the layer was formed from, or in the groups of a layer that follows. */
function firstForming(layer: Layer | undefined, layers: Layer[]): Forming {
  if (layer?.forming) return layer.forming;
  const scope = layers.find(({ following }) => following !== null);
  return {
    ...plainForming,
    scopeLayerId: scope && scope.id !== layer?.id ? scope.id : null,
    apart: layer?.keepApart ?? [],
  };
}

/** Groups formed by wishes: say what is wished, form, look, try again, keep. */
export function FormGroups({
  layer,
  onClose,
  onKept,
}: {
  layer: Layer | undefined;
  onClose(): void;
  onKept(layerId: string): void;
}) {
  const { store, plan, t } = useWorkbench();
  const { layers } = lookup(plan);
  const formable = layers.filter(({ following }) => following === null);
  const [layerId, setLayerId] = useState<string | null>(layer && layer.following === null ? layer.id : null);
  const [name, setName] = useState("Teams");
  const [forming, setForming] = useState<Forming>(() => firstForming(layer, layers));
  const [tries, setTries] = useState<Try[]>([]);
  const [chosen, setChosen] = useState(0);
  const [trouble, setTrouble] = useState<Unformed | { failed: string } | null>(null);
  const { run, stop, under } = useForming();
  const tidy = useMemo(() => {
    const topics =
      forming.names.kind === "topics" ? forming.names.topics.map((topic) => topic.trim()).filter(Boolean) : [];
    return topics.length > 0 ? { ...forming, names: { kind: "topics" as const, topics } } : forming;
  }, [forming]);
  const input = useMemo(() => formingInput(plan, layerId, tidy, t), [plan, layerId, tidy, t]);
  const students = input.scopes.reduce((sum, { people }) => sum + people.length, 0);
  const clear = () => {
    setTries([]);
    setTrouble(null);
  };
  const namesOf = useCallback((formed: Formed) => formedNames(plan, layerId, input, formed), [plan, layerId, input]);

  const used = new Set(
    (tries[chosen]?.formed.scopes ?? []).flatMap(({ groups }) => groups.map(({ existing }) => existing)),
  );
  const own = layerId ? (lookup(plan).groupsOfLayer.get(layerId) ?? []) : [];
  const empty = tries.length > 0 ? own.filter(({ id }) => !used.has(id)).length : 0;

  const another = async () => {
    setTrouble(null);
    const made = await run(input, Math.max(0, ...tries.map(({ formed }) => formed.seed)) + 1);
    if ("failed" in made || "unformed" in made) setTrouble(made);
    else {
      setTries([...tries.slice(-3), { formed: made, swaps: 0 }]);
      setChosen(Math.min(3, tries.length));
    }
  };
  const keep = () => {
    const id = layerId ?? v7();
    const kept = tries[chosen];
    if (!kept) return;
    const fresh: Layer = { ...blankLayer, id, position: layers.length, name: name.trim(), rule: "exactly one" };
    const groups = formedGroups(plan, id, input, kept.formed, v7);
    const drafted = store.draft([
      { kind: "layer.form", layerId: id, layer: layerId === null ? fresh : null, forming: tidy, groups },
    ]);
    if (drafted) onKept(id);
  };
  return (
    <section className={styles.forming} aria-label="Form groups">
      <div className={styles.ask}>
        <Choice
          label="Into"
          value={layerId ?? "new"}
          options={[
            { value: "new", label: "a new layer" },
            ...formable.map(({ id, name: own }) => ({ value: id, label: own })),
          ]}
          onChange={(id) => {
            const own = plan.layers[id];
            setLayerId(own ? id : null);
            setForming(firstForming(own, layers));
            clear();
          }}
        />
        {layerId === null && <TextField label="Name of the layer" value={name} onChange={setName} isRequired />}
        <Wishes
          forming={forming}
          layerId={layerId}
          onChange={(next) => {
            setForming(next);
            clear();
          }}
        />
      </div>
      <div className={styles.answer}>
        <div className={base.bar}>
          {under ? (
            <>
              <ProgressBar aria-label="Forming groups" value={under.share * 100} className={styles.progress as string}>
                {({ percentage }) => (
                  <span className={styles.track}>
                    <span style={{ width: `${percentage ?? 0}%` }} />
                  </span>
                )}
              </ProgressBar>
              <span>{Number.isNaN(under.total) ? "" : `best so far ${sayDecimal(under.total, 3)}`}</span>
              <Button onPress={stop}>Take the best so far</Button>
            </>
          ) : (
            <Button strong={tries.length === 0} isDisabled={students === 0} onPress={another}>
              {tries.length === 0 ? "Form the groups" : "Another try"}
            </Button>
          )}
          {tries.length > 0 && !under && (
            <Button strong isDisabled={layerId === null && name.trim() === ""} onPress={keep}>
              Draft {plural(tries[chosen]?.formed.scopes.flatMap(({ groups }) => groups).length ?? 0, "group")}
            </Button>
          )}
          <span className={base.push}>
            <Button quiet onPress={onClose}>
              Leave
            </Button>
          </span>
        </div>
        <p className={base.soft}>
          {plural(students, "student")} in {plural(input.scopes.length, "scope")}
          {input.leftOut.length > 0 &&
            `; ${plural(input.leftOut.length, "student")} in no group of ${plan.layers[forming.scopeLayerId ?? ""]?.name ?? "it"}, left out`}
          {input.scopes.some(({ held }) => held.length > 0) &&
            `; ${input.scopes.reduce((sum, { held }) => sum + held.length, 0)} held where they are`}
          . Nothing changes before you draft it.
        </p>
        {empty > 0 && <p>{plural(empty, "group")} of the layer will be left without anyone.</p>}
        {trouble && <Trouble trouble={trouble} input={input} />}
        {tries.length > 0 && (
          <Tries
            input={input}
            tries={tries}
            chosen={chosen}
            choose={setChosen}
            change={(made) => setTries(tries.map((other, at) => (at === chosen ? made : other)))}
            namesOf={namesOf}
          />
        )}
      </div>
    </section>
  );
}

function Trouble({
  trouble,
  input,
}: {
  trouble: Unformed | { failed: string };
  input: ReturnType<typeof formingInput>;
}) {
  const { plan } = useWorkbench();
  if ("failed" in trouble) return <p className={base.wrong}>{trouble.failed}</p>;
  const scope = input.scopes.find(({ name }) => name === trouble.scope);
  const groupName = (bin: number) => plan.groups[scope?.existing[bin] ?? ""]?.name ?? `group ${bin + 1}`;
  const shown = trouble.wishes.slice(0, 12);
  return (
    <div role="alert">
      <p className={base.wrong}>
        {trouble.proved
          ? `These cannot all hold${trouble.scope ? ` in ${trouble.scope}` : ""}, so nothing was formed. Drop one of them:`
          : `These could not be met${trouble.scope ? ` in ${trouble.scope}` : ""} in the time given, so nothing was formed. Drop some of them:`}
      </p>
      <ul className={styles.contradiction}>
        {shown.map((wish) => (
          <li key={JSON.stringify(wish)}>{sayHard(wish, (id) => nameOf(plan, id), groupName)}</li>
        ))}
        {trouble.wishes.length > shown.length && <li>and {trouble.wishes.length - shown.length} more</li>}
      </ul>
    </div>
  );
}
