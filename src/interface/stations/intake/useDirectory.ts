import { useEffect, useState } from "react";
import * as api from "../../../api/intake.ts";
import type { PersonCard } from "../../../core/intake/commands.ts";
import { useWorkbench } from "../../workbench/context.tsx";
import { ask, isFailure } from "../../workbench/fetch.ts";

/** Whom the institution's directory finds by what is typed, and why it finds nobody. */
export function useDirectory(text: string): { found: PersonCard[]; trouble: string | null } {
  const { store } = useWorkbench();
  const [found, setFound] = useState<PersonCard[]>([]);
  const [trouble, setTrouble] = useState<string | null>(null);
  useEffect(() => {
    if (text.trim().length < 2) return setFound([]);
    let wanted = true;
    const timer = setTimeout(async () => {
      const answer = await ask(store.address, api.searchDirectory, { query: { find: text.trim() } });
      if (!wanted) return;
      setTrouble(isFailure(answer) ? answer.detail : null);
      setFound(isFailure(answer) ? [] : answer.people);
    }, 250);
    return () => {
      wanted = false;
      clearTimeout(timer);
    };
  }, [text, store]);
  return { found, trouble };
}
