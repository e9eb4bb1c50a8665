import { useSyncExternalStore } from "react";

/** As in the style sheets: a phone, or a desk's screen at twice the size. */
const narrow = "(max-width: 760px)";

function subscribe(told: () => void): () => void {
  const query = matchMedia(narrow);
  query.addEventListener("change", told);
  return () => query.removeEventListener("change", told);
}

/** Whether there is room for one column only. */
export const useNarrow = (): boolean => useSyncExternalStore(subscribe, () => matchMedia(narrow).matches);
