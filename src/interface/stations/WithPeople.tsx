import { useState } from "react";
import type { Target } from "../../core/plan/types.ts";
import { Button } from "../kit/Button.tsx";
import { MessageDialog } from "../messages/MessageDialog.tsx";
import { IntoGroup } from "./IntoGroup.tsx";

interface WithPeopleProps {
  personIds: readonly string[];
  /** Whether it stands among quiet buttons. */
  quiet?: boolean;
  onDone?(): void;
}

/** What can be done with some people wherever they stand: they go into a group, or are written to. */
export function WithPeople(props: WithPeopleProps) {
  const { personIds, quiet = false } = props;
  return (
    <>
      <IntoGroup {...props} />
      <WriteTo quiet={quiet} to={personIds.map((id) => ({ kind: "person", id }))} says="Write to them" />
    </>
  );
}

interface WriteToProps {
  to?: Target[];
  unplacedIn?: string[];
  says: string;
  quiet?: boolean;
  /** Also where it names nobody yet. */
  always?: boolean;
}

/** A button that opens a message to those it names. */
export function WriteTo({ to = [], unplacedIn = [], says, quiet = false, always = false }: WriteToProps) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button quiet={quiet} isDisabled={!always && to.length + unplacedIn.length === 0} onPress={() => setOpen(true)}>
        {says}
      </Button>
      {open && <MessageDialog start={{ to, unplacedIn }} onClose={() => setOpen(false)} />}
    </>
  );
}
