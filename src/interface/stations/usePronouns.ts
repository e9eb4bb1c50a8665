import { useEffect, useState } from "react";
import * as api from "../../api/staff.ts";
import { useWorkbench } from "../workbench/context.tsx";
import { ask, isFailure } from "../workbench/fetch.ts";

type Pronouns = ReadonlyMap<string, string>;
const none: Pronouns = new Map();

/** What stands behind somebody's name: " (she/her)", or nothing where they say nothing. Asked for once a page. */
export function usePronouns(): (personId: string) => string {
  const { store } = useWorkbench();
  const known = store.kept.get("pronouns") as Pronouns | undefined;
  const [pronouns, setPronouns] = useState(known ?? none);
  useEffect(() => {
    if (store.kept.has("pronouns")) return;
    void ask(store.address, api.readPronouns).then((answer) => {
      if (isFailure(answer)) return;
      const found = new Map(answer.people.map((one) => [one.personId, one.pronouns]));
      store.kept.set("pronouns", found);
      setPronouns(found);
    });
  }, [store]);
  return (personId) => {
    const said = pronouns.get(personId);
    return said ? ` (${said})` : "";
  };
}
