/** Sheets for a projector or paper: one on the screen at a time, as large as fits; all of them on paper. */
import { useLayoutEffectWhen } from "../kit/when.ts";
import "../kit/page-locale.ts";
import { useEffect, useRef, useState } from "react";
import type { WallSheet } from "../../core/placement/wall-sheet.ts";
import { Stripe } from "../kit/Stripe.tsx";
import styles from "./wall.module.css";

interface WallProps {
  layer: string;
  sheets: WallSheet[];
  /** Whether it shows what is only drafted: then it says so, on paper too. */
  isDrafted: boolean;
}

/** The largest letters with which all of an element's names are on the screen. */
function fitNames(element: HTMLElement): void {
  let [small, large] = [12, 64];
  while (large - small > 0.5) {
    const size = (small + large) / 2;
    element.style.setProperty("--size", `${size}px`);
    const over = element.scrollHeight > element.clientHeight + 1 || element.scrollWidth > element.clientWidth + 1;
    if (over) large = size;
    else small = size;
  }
  element.style.setProperty("--size", `${small}px`);
}

export function WallSheets({ layer, sheets, isDrafted }: WallProps) {
  const [at, setAt] = useState(0);
  const names = useRef<HTMLDivElement>(null);
  const last = sheets.length - 1;
  useEffect(() => {
    const press = ({ key }: KeyboardEvent) => {
      if (["ArrowRight", "ArrowDown", "PageDown", " "].includes(key)) setAt((now) => Math.min(last, now + 1));
      else if (["ArrowLeft", "ArrowUp", "PageUp"].includes(key)) setAt((now) => Math.max(0, now - 1));
      else if (key === "Home") setAt(0);
      else if (key === "End") setAt(last);
    };
    addEventListener("keydown", press);
    return () => removeEventListener("keydown", press);
  }, [last]);
  // Another sheet has other names to fit.
  useLayoutEffectWhen([at], () => {
    const again = () => names.current && fitNames(names.current);
    again();
    void document.fonts.ready.then(again);
    addEventListener("resize", again);
    return () => removeEventListener("resize", again);
  });
  return (
    <main className={styles.wall}>
      {sheets.length === 0 && <p className={styles.empty}>There is nobody to show yet.</p>}
      {sheets.map((sheet, index) => (
        <section key={sheet.title} className={styles.sheet} data-off={index !== at || undefined}>
          <header className={styles.head}>
            <h1>{sheet.title}</h1>
            <p>
              {layer}
              {isDrafted && <strong className={styles.drafted}>Drafted, not published</strong>}
            </p>
          </header>
          <div ref={index === at ? names : undefined} className={styles.groups} data-names>
            {sheet.groups.map((group) => (
              <article key={group.label} className={styles.group}>
                <h2>
                  <Stripe stripe={group.stripe} wide /> {group.label}
                </h2>
                <ul>
                  {group.names.map((name) => (
                    <li key={name}>{name}</li>
                  ))}
                </ul>
              </article>
            ))}
            {sheet.without.length > 0 && (
              <article className={styles.group}>
                <h2>In no group yet</h2>
                <ul>
                  {sheet.without.map((name) => (
                    <li key={name}>{name}</li>
                  ))}
                </ul>
              </article>
            )}
          </div>
        </section>
      ))}
      <nav className={styles.turn} aria-label="Sheets">
        <button type="button" disabled={at === 0} onClick={() => setAt(at - 1)}>
          Previous
        </button>
        <span>
          {Math.min(at, last) + 1} of {sheets.length}
        </span>
        <button type="button" disabled={at >= last} onClick={() => setAt(at + 1)}>
          Next
        </button>
        <button type="button" onClick={() => print()}>
          Print
        </button>
      </nav>
    </main>
  );
}
