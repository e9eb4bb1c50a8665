import { ProgressBar } from "react-aria-components";
import { Button } from "../../kit/Button.tsx";
import styles from "./intake.module.css";
import type { IntakeState } from "./useIntake.ts";

/** Work under way in the worker: how far it is, and a way to stop it. */
export function Work({ intake: { under, applying, clear } }: { intake: IntakeState }) {
  if (!under) return null;
  return (
    <div className={styles.work}>
      <ProgressBar aria-label={under.says} value={under.share * 100} className={styles.progress as string}>
        {({ percentage }) => (
          <>
            <span>{under.says}</span>
            <span className={styles.track}>
              <span style={{ width: `${percentage ?? 0}%` }} />
            </span>
          </>
        )}
      </ProgressBar>
      {!applying && <Button onPress={clear}>Cancel</Button>}
    </div>
  );
}
