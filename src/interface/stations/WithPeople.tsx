import { useState } from "react";
import type { Target } from "../../core/plan/types.ts";
import { Button } from "../kit/Button.tsx";
import { Fetched } from "../kit/fetched.tsx";
import { messageDialog } from "../messages/messageDialog.ts";
import { useMay } from "../workbench/may.tsx";
import { IntoGroup } from "./IntoGroup.tsx";
import { MoreTime } from "./MoreTime.tsx";

interface WithPeopleProps {
  personIds: readonly string[];
  /** Whether it stands among quiet buttons. */
  quiet?: boolean;
  /** What it is about, where that is known. */
  itemId?: string | null;
  onDone?(): void;
}

/** What can be done with some people wherever they stand: they go into a group, get more time, or are written to. */
export function WithPeople(props: WithPeopleProps) {
  const { personIds, quiet = false, itemId = null } = props;
  const mayPlace = useMay("change members");
  return (
    <>
      {mayPlace && <IntoGroup {...props} />}
      <MoreTime personIds={personIds} quiet={quiet} itemId={itemId} />
      <WriteTo
        quiet={quiet}
        to={personIds.map((id) => ({ kind: "person", id }))}
        itemId={itemId}
        says="Write to them"
      />
    </>
  );
}

interface WriteToProps {
  to?: Target[];
  unplacedIn?: string[];
  itemId?: string | null;
  says: string;
  quiet?: boolean;
  /** Also where it names nobody yet. */
  always?: boolean;
}

/** A button that opens a message to those it names. */
export function WriteTo({
  to = [],
  unplacedIn = [],
  itemId = null,
  says,
  quiet = false,
  always = false,
}: WriteToProps) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button quiet={quiet} isDisabled={!always && to.length + unplacedIn.length === 0} onPress={() => setOpen(true)}>
        {says}
      </Button>
      {open && (
        <Fetched part={messageDialog} props={{ start: { to, unplacedIn, itemId }, onClose: () => setOpen(false) }} />
      )}
    </>
  );
}
