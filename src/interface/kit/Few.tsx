import { type ReactNode, useState } from "react";
import { Button } from "./Button.tsx";

interface FewProps<One> {
  of: readonly One[];
  /** So many at first. */
  most?: number;
  /** A row of a list, with a key of its own. */
  children(one: One): ReactNode;
}

/** The first rows of a list, and a press for the rest: a panel is read, not scrolled. */
export function Few<One>({ of, most = 6, children }: FewProps<One>) {
  const [isWhole, setWhole] = useState(false);
  const shown = isWhole || of.length <= most + 1 ? of : of.slice(0, most);
  return (
    <>
      {shown.map(children)}
      {shown.length < of.length && (
        <li>
          <Button quiet onPress={() => setWhole(true)}>
            {of.length - shown.length} more
          </Button>
        </li>
      )}
    </>
  );
}
