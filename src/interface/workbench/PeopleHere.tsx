import { Users } from "lucide-react";
import { DialogTrigger, Popover } from "react-aria-components";
import { Button } from "../kit/Button.tsx";
import kit from "../kit/controls.module.css";
import { plural } from "../kit/words.ts";
import { useParts } from "./context.tsx";
import styles from "./here.module.css";
import { stationName } from "./names.ts";

/** Who else has the course open, where they are, and what they are about to change. */
export function PeopleHere() {
  const state = useParts("people");
  const { people } = state;
  if (people.length === 0) return null;
  const [only] = people;
  const says = people.length === 1 && only ? `${only.name} is here` : `${people.length} others are here`;
  return (
    <DialogTrigger>
      <Button quiet className={styles.here as string} aria-label={says}>
        <Users size={15} aria-hidden /> {people.length}
      </Button>
      <Popover className={`${kit.popover} ${styles.hereList}`} placement="bottom end">
        {people.map(({ name, station, drafted, says: changes }) => (
          <section key={name}>
            <strong>{name}</strong>, at {stationName(station)}
            {drafted > 0 && <p>{plural(drafted, "change")} drafted:</p>}
            <ul>
              {changes.map((one) => (
                <li key={one}>{one}</li>
              ))}
            </ul>
            {drafted > changes.length && <p>and {drafted - changes.length} more</p>}
          </section>
        ))}
      </Popover>
    </DialogTrigger>
  );
}
