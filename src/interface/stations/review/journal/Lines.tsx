import type { ReactNode } from "react";
import { Button } from "../../../kit/Button.tsx";
import base from "../../station.module.css";
import type { usePages } from "./usePages.ts";

interface LinesProps<Line extends { id: string }> {
  pages: ReturnType<typeof usePages<Line>>;
  /** What is said where there is none. */
  empty: string;
  /** The heads of columns beside when, who and what. */
  more?: ReactNode;
  row(line: Line): ReactNode;
}

/** Lines of what was done, the latest first, in a table; older ones by a press. */
export function Lines<Line extends { id: string }>({ pages, empty, more, row }: LinesProps<Line>) {
  const { found, failure, older } = pages;
  return (
    <>
      {failure && (
        <p role="alert" className={base.wrong}>
          {failure}
        </p>
      )}
      {found?.lines.length === 0 && <p className={base.soft}>{empty}</p>}
      <div className={base.scroll} hidden={!found || found.lines.length === 0}>
        <table className={base.table}>
          <thead>
            <tr>
              <th>When</th>
              <th>Who</th>
              <th>What</th>
              {more}
            </tr>
          </thead>
          <tbody>{found?.lines.map(row)}</tbody>
        </table>
        {found?.more && <Button onPress={older}>Older</Button>}
      </div>
    </>
  );
}
