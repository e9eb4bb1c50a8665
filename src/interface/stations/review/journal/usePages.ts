import { useCallback, useState } from "react";
import { useEffectWhen } from "../../../kit/when.ts";
import { type Failure, isFailure } from "../../../workbench/fetch.ts";

interface Page<Line> {
  lines: Line[];
  more: boolean;
}

/**
 * Lines that the server tells a page at a time, the latest first. Asked anew, a moment later, whenever `read` or what they
 * are `about` changes. `read` takes the last line that is known.
 */
export function usePages<Line extends { id: string }>(
  read: (before: string | null) => Promise<Page<Line> | Failure>,
  about: unknown,
) {
  const [found, setFound] = useState<Page<Line> | null>(null);
  const [failure, setFailure] = useState("");
  const find = useCallback(
    async (before: Line[]) => {
      const answer = await read(before.at(-1)?.id ?? null);
      if (isFailure(answer)) return setFailure(answer.detail);
      setFailure("");
      setFound({ lines: [...before, ...answer.lines], more: answer.more });
    },
    [read],
  );
  // What they are about brings new lines.
  useEffectWhen([find, about], () => {
    const timer = setTimeout(() => void find([]), 200);
    return () => clearTimeout(timer);
  });
  return { found, failure, older: () => void find(found?.lines ?? []) };
}
