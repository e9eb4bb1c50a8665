import { useFindings } from "../workbench/context.tsx";
import base from "./station.module.css";

/** How many findings a station has; until that is known it says so instead of a number. */
export function FindingsFigure({ count, isWrong }: { count: number; isWrong: boolean }) {
  const { isKnown } = useFindings();
  return (
    <span className={isWrong ? base.wrong : ""}>
      {isKnown ? (
        <>
          <strong>{count}</strong> {count === 1 ? "finding" : "findings"}
        </>
      ) : (
        "looking for findings"
      )}
    </span>
  );
}
