import { useState } from "react";
import { v7 } from "uuid";
import { takeTyped } from "../../../core/placement/files/take-typed.ts";
import { countLayer } from "../../../core/placement/membership.ts";
import { lookup } from "../../../core/plan/lookup.ts";
import { blankLayer, type Layer } from "../../../core/plan/types.ts";
import { fold } from "../../../core/text/caseless.ts";
import { Button } from "../../kit/Button.tsx";
import { Actions, Dialog } from "../../kit/Dialog.tsx";
import { Checkbox, Choice, TextField } from "../../kit/Fields.tsx";
import { SubmitForm } from "../../kit/SubmitForm.tsx";
import { plural } from "../../kit/words.ts";
import { useStudents, useWorkbench } from "../../workbench/context.tsx";
import base from "../station.module.css";
import { GroupLines, useTypedGroups } from "./GroupLines.tsx";

interface RuleProps {
  label?: string;
  rule: Layer["rule"];
  setRule(rule: Layer["rule"]): void;
}
/** In how many of a layer's groups each student is. */
export const RuleChoice = ({ label = "Each student is in", rule, setRule }: RuleProps) => (
  <Choice<Layer["rule"]>
    label={label}
    value={rule}
    onChange={setRule}
    options={[
      { value: "exactly one", label: "exactly one group" },
      { value: "at most one", label: "at most one group" },
      { value: "any number", label: "any number of groups" },
    ]}
  />
);

/** Name and rule of a layer that is there, and whether students see it. */
export function LayerEdit({ layer, onClose }: { layer: Layer; onClose(): void }) {
  const { store } = useWorkbench();
  const [name, setName] = useState(layer.name);
  const [rule, setRule] = useState(layer.rule);
  const [isPrivate, setPrivate] = useState(layer.private);
  const fields = { name: name.trim(), rule, private: isPrivate };
  return (
    <Dialog title={layer.name} onClose={onClose}>
      <SubmitForm onSubmit={() => store.draft([{ kind: "layer.change", layerId: layer.id, fields }]) && onClose()}>
        <TextField label="Name" value={name} onChange={setName} autoFocus />
        <RuleChoice rule={rule} setRule={setRule} />
        <Checkbox isSelected={isPrivate} onChange={setPrivate}>
          Private: no student ever sees it, or that it exists
        </Checkbox>
        {isPrivate !== layer.private && <WhatIsShown layer={layer} />}
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={fields.name === ""}>
            Draft the change
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}

/** What becoming private or named shows to whom, or no longer does. */
function WhatIsShown({ layer }: { layer: Layer }) {
  const { plan, t } = useWorkbench();
  const { groups, placed } = countLayer(plan, layer.id, t);
  const read = groups.map(({ group, personIds }) => `“${group.label || group.name}” (${personIds.length})`);
  const shown = read.slice(0, 8).join(", ") + (read.length > 8 ? ` and ${read.length - 8} more` : "");
  return (
    <p className={layer.private ? base.wrong : base.soft}>
      {layer.private
        ? `${plural(placed, "student")} will read which of its groups they are in, and that it exists: ${shown}.`
        : `${plural(placed, "student")} will no longer read which of its groups they are in: ${shown}.`}
    </p>
  );
}

/** The layer that a file is to make: its name (empty: as the file is called) and its rule. */
export interface NewLayerFile {
  name: string;
  rule: Layer["rule"];
}

/** A layer placed by hand, with its first groups. */
export function LayerDialog(props: {
  onClose(): void;
  onMade(layerId: string): void;
  fromFile(as: NewLayerFile): void;
}) {
  const { onClose, onMade, fromFile } = props;
  const { store, plan } = useWorkbench();
  const students = useStudents();
  const [name, setName] = useState("");
  const [chosenRule, setRule] = useState<Layer["rule"] | null>(null);
  const [isPrivate, setPrivate] = useState(false);
  const [text, setText] = useState("");
  const typed = useTypedGroups(text);
  // A list that leaves some students out is of a layer in which not everybody has to be.
  const listed = new Set(typed.groups.flatMap(({ personIds }) => personIds)).size;
  const rule = chosenRule ?? (listed > 0 && listed < students.length ? "at most one" : "exactly one");
  const make = () => {
    const layer: Layer = {
      id: v7(),
      position: lookup(plan).layers.length,
      name: name.trim(),
      rule,
      ...blankLayer,
      private: isPrivate,
    };
    const made = store.draft([
      { kind: "layer.add", layer },
      ...(typed.groups.length > 0 ? [takeTyped(layer, typed.groups, "Typed")] : []),
    ]);
    if (made) {
      onMade(layer.id);
      onClose();
    }
  };
  return (
    <Dialog title="New layer" onClose={onClose}>
      <SubmitForm onSubmit={make}>
        <TextField label="Name" value={name} onChange={setName} autoFocus placeholder="Project teams" isRequired />
        <RuleChoice rule={rule} setRule={setRule} />
        <GroupLines
          label="Groups, a line each, with people if you like"
          rule={rule}
          text={text}
          setText={setText}
          typed={typed}
        />
        <Checkbox isSelected={isPrivate} onChange={setPrivate}>
          Private: no student ever sees it, or that it exists
        </Checkbox>
        <Actions>
          <Button quiet onPress={() => fromFile({ name: name.trim(), rule })}>
            From a file instead
          </Button>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={name.trim() === ""}>
            Draft the layer
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}

export function GroupDialog({ layer, onClose }: { layer: Layer; onClose(): void }) {
  const { store, plan } = useWorkbench();
  const [text, setText] = useState("");
  const typed = useTypedGroups(text);
  const there = new Set((lookup(plan).groupsOfLayer.get(layer.id) ?? []).map(({ name }) => fold(name)));
  const added = typed.groups.filter(({ name }) => !there.has(fold(name))).length;
  const says = added === typed.groups.length ? plural(added, "group") : "the lists";
  return (
    <Dialog title={`Groups in ${layer.name}`} onClose={onClose}>
      <SubmitForm onSubmit={() => store.draft([takeTyped(layer, typed.groups, "Typed")]) && onClose()}>
        <GroupLines
          label="Names, a line each, with people if you like"
          text={text}
          setText={setText}
          typed={typed}
          rule={layer.rule}
          autoFocus
        />
        {typed.groups.length > added && (
          <p className={base.soft}>
            {typed.groups.length - added} of them there already: whoever is listed joins them.
          </p>
        )}
        <Actions>
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={typed.groups.length === 0}>
            Draft {typed.groups.length === 1 && added === 1 ? "the group" : says}
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
