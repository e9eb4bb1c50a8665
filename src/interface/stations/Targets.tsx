import { useState } from "react";
import { once } from "../../core/memo.ts";
import { compareText, fullName, lookup, targetName } from "../../core/plan/lookup.ts";
import { readTargets, type Unclear } from "../../core/plan/typed-targets.ts";
import type { Plan, Target } from "../../core/plan/types.ts";
import type { Reach } from "../../core/reach/reach.ts";
import { Button } from "../kit/Button.tsx";
import { Chip } from "../kit/Chip.tsx";
import kit from "../kit/controls.module.css";
import { type Findable, Finder } from "../kit/Finder.tsx";
import { Stripe } from "../kit/Stripe.tsx";
import { exactFirst, holdsWords, plural } from "../kit/words.ts";
import { useReach, useWorkbench } from "../workbench/context.tsx";
import base from "./station.module.css";

export interface Choosable extends Findable {
  target: Target;
  /** All that it is found by. */
  words: string;
}

/** Everything that can be named: groups, then sets, sections and students. */
export const choosable = once((reach: Reach): Choosable[] => {
  const { plan, students } = reach;
  const found: Choosable[] = [];
  const add = (kind: Target["kind"], id: string, name: string, what: string, more = "") =>
    found.push({ id: `${kind} ${id}`, target: { kind, id }, name, what, words: `${name} ${what} ${more}` });
  for (const layer of lookup(plan).layers) {
    for (const group of lookup(plan).groupsOfLayer.get(layer.id) ?? []) add("group", group.id, group.name, layer.name);
  }
  for (const set of Object.values(plan.sets).sort((a, b) => compareText(a.name, b.name)))
    add("set", set.id, set.name, `set of ${set.groupIds.length}`);
  for (const section of Object.values(plan.sections).sort((a, b) => compareText(a.code, b.code)))
    add("section", section.id, section.code, "section", section.title);
  for (const personId of students) {
    const person = plan.people[personId];
    if (person) add("person", personId, fullName(person), person.sourcedId, `${person.username} ${person.email}`);
  }
  return found;
});

/** Everybody and everything that can be meant, as what reads typed names takes it. */
export const nameable = once(({ plan, students }: Reach) => ({ plan, personIds: students }));

/** The stripe of a target that is a group. */
export function TargetStripe({ target }: { target: Target }) {
  const { plan } = useWorkbench();
  const group = target.kind === "group" ? plan.groups[target.id] : undefined;
  return group ? <Stripe stripe={group.stripe} isPrivate={plan.layers[group.layerId]?.private} /> : null;
}

/** Whether there are groups of several layers among targets. */
function isMixed(plan: Plan, targets: Target[]): boolean {
  const layers = targets.flatMap(({ kind, id }) => (kind === "group" ? [plan.groups[id]?.layerId] : []));
  return new Set(layers).size > 1;
}

interface TargetsProps {
  label: string;
  targets: Target[];
  onChange(targets: Target[]): void;
  /** Only groups, say; all unless given. */
  kinds?: Target["kind"][];
}

/** Groups, sets, sections and persons, found by typing and kept as chips. */
export function Targets({ label, targets, onChange, kinds }: TargetsProps) {
  const { plan } = useWorkbench();
  const reach = useReach();
  const [text, setText] = useState("");
  /** After a choice the field is made anew, focused and shut: its list would lie over the rest of the dialog. */
  const [round, setRound] = useState(0);
  /** What of a text that was typed or pasted fits nobody, or several. */
  const [unclear, setUnclear] = useState<Unclear[]>([]);
  const all = choosable(reach);
  const chosen = new Set(targets.map(({ kind, id }) => `${kind} ${id}`));
  const fits = holdsWords(text);
  const isWanted = ({ kind }: Target) => !kinds || kinds.includes(kind);
  const layers = isWanted({ kind: "group", id: "" }) ? wholeLayers(plan) : [];
  const offered = [...layers, ...all].filter(
    ({ id, words, target }) => !chosen.has(id) && isWanted(target) && fits(words),
  );
  const shown = exactFirst(offered, text).slice(0, 60);
  const renew = () => {
    setText("");
    setRound(round + 1);
  };
  const add = (more: Target[]) =>
    onChange([...targets, ...more.filter(({ kind, id }) => !chosen.has(`${kind} ${id}`))]);
  const takeText = (typed: string) => {
    const found = readTargets(nameable(reach), typed);
    const wanted = found.targets.filter(isWanted);
    if (wanted.length === 0 && found.unclear.length < 2) return false;
    add(wanted);
    setUnclear(found.unclear);
    renew();
    return true;
  };
  const choose = (id: string | null) => {
    const layer = layers.find((one) => one.id === id);
    const found = all.find((one) => one.id === id);
    if (layer) add(layer.targets);
    else if (found) add([found.target]);
    renew();
  };
  return (
    <div>
      <Finder
        key={round}
        label={label}
        placeholder="Type or paste groups, sections, names"
        items={shown}
        text={text}
        setText={setText}
        value={null}
        onChoose={choose}
        takeText={takeText}
        picture={({ target }) => <TargetStripe target={target} />}
        autoFocus={round > 0}
        opensAtOnce={round === 0}
      />
      <UnclearNames
        unclear={unclear}
        take={(target, text) => {
          add([target]);
          setUnclear(unclear.filter((one) => one.text !== text));
        }}
        leave={() => setUnclear([])}
      />
      <ChosenTargets targets={targets} onChange={onChange} />
    </div>
  );
}

/** What was chosen, each with a way out. */
function ChosenTargets({ targets, onChange }: Pick<TargetsProps, "targets" | "onChange">) {
  const { plan } = useWorkbench();
  if (targets.length === 0) return null;
  return (
    <div className={`${kit.chips} ${base.chosenTargets}`}>
      {targets.map((target) => {
        const group = target.kind === "group" ? plan.groups[target.id] : undefined;
        // Marks and colours are told apart within a layer alone.
        const name =
          group && isMixed(plan, targets)
            ? `${group.name} (${plan.layers[group.layerId]?.name ?? "a removed layer"})`
            : targetName(plan, target);
        return (
          <Chip
            key={target.kind + target.id}
            name={name}
            onLeaveOut={() => onChange(targets.filter((other) => other !== target))}
          >
            <TargetStripe target={target} />
          </Chip>
        );
      })}
    </div>
  );
}

interface WholeLayer extends Choosable {
  targets: Target[];
}

/** Every layer with groups: chosen, it stands for all of them. */
const wholeLayers = (plan: Plan): WholeLayer[] =>
  lookup(plan).layers.flatMap(({ id, name }) => {
    const targets = (lookup(plan).groupsOfLayer.get(id) ?? []).map(
      (group): Target => ({ kind: "group", id: group.id }),
    );
    const [target] = targets;
    const what = `all ${targets.length} groups`;
    return target && targets.length > 1
      ? [{ id: `layer ${id}`, name, what, words: `${name} ${what}`, target, targets }]
      : [];
  });

interface UnclearProps {
  unclear: Unclear[];
  take(target: Target, text: string): void;
  leave(): void;
}

/** What was typed or pasted and fits nobody, or several, with those that it may mean. */
function UnclearNames({ unclear, take, leave }: UnclearProps) {
  const { plan } = useWorkbench();
  if (unclear.length === 0) return null;
  return (
    <div role="status" className={base.unclear}>
      <p className={base.wrong}>
        {plural(unclear.length, "name")} left over.{" "}
        <Button quiet onPress={leave}>
          Leave {unclear.length === 1 ? "it" : "them"} out
        </Button>
      </p>
      <ul>
        {unclear.map(({ text, likely }) => (
          <li key={text}>
            <strong>{text}</strong> {likely.length === 0 ? "fits nobody here" : "may be"}{" "}
            {likely.map((target) => (
              <Button key={target.kind + target.id} quiet onPress={() => take(target, text)}>
                {targetName(plan, target)}
                {target.kind === "section" && ", section"}
              </Button>
            ))}
          </li>
        ))}
      </ul>
    </div>
  );
}

interface OneProps {
  label: string;
  target: Target | null;
  onChange(target: Target | null): void;
}

/** One section, group, named set or person, found by typing. */
export function OneTarget({ label, target, onChange }: OneProps) {
  const reach = useReach();
  const all = choosable(reach);
  const key = target && `${target.kind} ${target.id}`;
  const [text, setText] = useState(() => all.find(({ id }) => id === key)?.name ?? "");
  const chosen = all.find(({ id }) => id === key);
  const fits = holdsWords(chosen?.name === text ? "" : text);
  return (
    <Finder
      label={label}
      placeholder="Type a name, an id, a group or a section"
      items={exactFirst(
        all.filter(({ words }) => fits(words)),
        text,
      ).slice(0, 60)}
      text={text}
      setText={setText}
      value={key}
      onChoose={(id) => {
        const found = all.find((one) => one.id === id);
        onChange(found?.target ?? null);
        if (found) setText(found.name);
      }}
      picture={({ target }) => <TargetStripe target={target} />}
      opensAtOnce
    />
  );
}
