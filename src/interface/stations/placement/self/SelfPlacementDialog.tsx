import { useState } from "react";
import { writeCsv } from "../../../../core/formats/text.ts";
import { codesFor, readTypedCodes } from "../../../../core/placement/self-placement.ts";
import { lookup } from "../../../../core/plan/lookup.ts";
import type { Group, Layer, SelfPlacement } from "../../../../core/plan/types.ts";
import { Button } from "../../../kit/Button.tsx";
import { DateTime } from "../../../kit/DateTime.tsx";
import { Actions, Dialog } from "../../../kit/Dialog.tsx";
import { Checkbox, TextField } from "../../../kit/Fields.tsx";
import { RichText } from "../../../kit/RichText.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { saveFile } from "../../../kit/save.ts";
import { Views } from "../../../kit/Views.tsx";
import { plural } from "../../../kit/words.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import type { NewCommand } from "../../../workbench/store.ts";
import base from "../../station.module.css";
import { Wrong } from "../../Wrong.tsx";
import styles from "../groups/groups.module.css";

const blank: SelfPlacement = { opens: null, closes: null, by: "choice", help: "", showNames: false };
/** What students are told where nobody wrote anything else. */
const usualHelp = "<p>Type the code that stands on your timetable. It decides which group you are in.</p>";
/** The pattern last used, in whichever course: the next one is a press away from the same. */
const remembered = "code-pattern";
const random = (below: number) => (crypto.getRandomValues(new Uint32Array(1))[0] as number) % below;

/** How students place themselves in a layer: when, by what, with which words, and the codes of its groups. */
export function SelfPlacementDialog({ layer, onClose }: { layer: Layer; onClose(): void }) {
  const { store, plan } = useWorkbench();
  const groups = lookup(plan).groupsOfLayer.get(layer.id) ?? [];
  const [self, setSelf] = useState<SelfPlacement>(layer.selfPlacement ?? blank);
  const set = (fields: Partial<SelfPlacement>) => setSelf({ ...self, ...fields });
  const [pattern, setPattern] = useState(localStorage.getItem(remembered) ?? "{mark}-????");
  const [codes, setCodes] = useState(new Map(groups.flatMap(({ id, code }) => (code === null ? [] : [[id, code]]))));
  const [visitor, setVisitor] = useState(plan.course.visitorCode ?? "");
  const [wrong, setWrong] = useState<string | null>(null);
  const make = () => {
    const others = Object.values(plan.groups).filter(({ layerId, code }) => layerId !== layer.id && code !== null);
    const taken = new Set([...others.map(({ code }) => code as string), plan.course.visitorCode ?? "", visitor]);
    setCodes(new Map(codesFor(groups, pattern, taken, random).map(({ groupId, code }) => [groupId, code])));
    localStorage.setItem(remembered, pattern);
  };
  const chooseBy = (by: SelfPlacement["by"]) => {
    const { help } = self;
    set({ by, help: by === "code" ? help || usualHelp : help === usualHelp ? "" : help });
  };
  /** Codes that are typed are meant to be used. */
  const take = (typed: Map<string, string>) => {
    setCodes(typed);
    chooseBy("code");
  };
  const draft = () => {
    if (self.by === "code" && groups.some(({ id }) => !codes.has(id)))
      return setWrong("Some groups have no code yet. Make codes for all of them first.");
    if (visitor.trim() !== "" && visitor.trim().length < 3) return setWrong("A code has three characters or more.");
    const given = groups.map(({ id }) => ({ groupId: id, code: codes.get(id)?.trim() || null }));
    const changed = given.filter(({ groupId, code }) => plan.groups[groupId]?.code !== code);
    const commands: NewCommand[] = [
      { kind: "layer.selfPlacement", layerId: layer.id, selfPlacement: self },
      ...(changed.length > 0 ? [{ kind: "group.codes" as const, layerId: layer.id, codes: changed }] : []),
      ...((visitor.trim() || null) === plan.course.visitorCode
        ? []
        : [{ kind: "course.visitorCode" as const, code: visitor.trim() || null }]),
    ];
    if (store.draft(commands)) onClose();
  };
  const roomless = groups.filter(({ max }) => max === null).length;
  return (
    <Dialog title={`Self-placement in ${layer.name}`} onClose={onClose} wide>
      <SubmitForm onSubmit={draft}>
        <Views<SelfPlacement["by"]>
          label="Students place themselves"
          value={self.by}
          onChange={chooseBy}
          options={[
            { value: "choice", label: "by choosing a group with room" },
            { value: "code", label: "by typing a code" },
          ]}
        />
        <div className={styles.pair}>
          <DateTime label="From" value={self.opens} onChange={(opens) => set({ opens })} />
          <DateTime label="Until" value={self.closes} onChange={(closes) => set({ closes })} />
        </div>
        <RichText key={self.by} label="What students are told" value={self.help} onChange={(help) => set({ help })} />
        <Checkbox isSelected={self.showNames} onChange={(showNames) => set({ showNames })}>
          Students see the names of a group's members before they choose
        </Checkbox>
        {self.by === "choice" && roomless > 0 && (
          <p className={base.soft}>
            {plural(roomless, "group")} {roomless === 1 ? "takes" : "take"} any number. A group's own dialog sets how
            many it holds.
          </p>
        )}
        <div className={styles.codes}>
          <TextField
            label="Pattern of the codes"
            hint="{mark} and {name} are the group's, {n} its number, ? a letter or digit"
            value={pattern}
            onChange={setPattern}
          />
          <Button onPress={make} isDisabled={groups.length === 0 || pattern.trim() === ""}>
            {codes.size === 0 ? "Make" : "Make new"} codes for all {groups.length}
          </Button>
          {codes.size > 0 && (
            <Button
              quiet
              onPress={() =>
                saveFile(
                  `${layer.name} codes.csv`,
                  "text/csv",
                  writeCsv(
                    ["Group", "Code"],
                    groups.map(({ id, name }) => [name, codes.get(id) ?? ""]),
                  ),
                )
              }
            >
              Save the list
            </Button>
          )}
        </div>
        <TypedCodes groups={groups} codes={codes} onChange={take} />
        {codes.size > 0 && (
          <ul className={styles.preview} aria-label="Codes">
            {groups.slice(0, 300).map(({ id, name }) => (
              <li key={id}>
                <span>{name}</span>
                <strong>{codes.get(id) ?? "no code"}</strong>
              </li>
            ))}
          </ul>
        )}
        <TextField
          label="Code for visitors of the course: they read what is for everyone, and hand nothing in"
          value={visitor}
          onChange={setVisitor}
        />
        <Wrong>{wrong}</Wrong>
        <Actions>
          {layer.selfPlacement && (
            <Button
              onPress={() =>
                store.draft([{ kind: "layer.selfPlacement", layerId: layer.id, selfPlacement: null }]) && onClose()
              }
            >
              Stop self-placement
            </Button>
          )}
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit">
            Draft it
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}

interface TypedProps {
  groups: Group[];
  codes: Map<string, string>;
  onChange(codes: Map<string, string>): void;
}

/** Codes that are there already, such as those of a timetable: a group and its code a line, typed or pasted. */
function TypedCodes({ groups, codes, onChange }: TypedProps) {
  const [text, setText] = useState("");
  const { unclear } = readTypedCodes(groups, text);
  return (
    <TextField
      label="Codes that there are already: a group and its code a line"
      lines={3}
      value={text}
      onChange={(typed) => {
        setText(typed);
        onChange(new Map([...codes, ...readTypedCodes(groups, typed).codes]));
      }}
      placeholder={groups[0] ? `${groups[0].name}: KITE-7` : ""}
      error={unclear.length > 0 && `No group and code: ${unclear.slice(0, 3).join("; ")}`}
      hint="Capitals, blanks and hyphens do not matter when a student types one."
    />
  );
}
