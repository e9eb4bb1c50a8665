/** Buttons that copy what stands beside them: `data-copy` names the element by its id. */
import { announce } from "./show-page.ts";

export function watchCopies(): void {
  document.addEventListener("click", ({ target }) => {
    const button = target instanceof Element ? target.closest<HTMLButtonElement>("[data-copy]") : null;
    const text = document.getElementById(button?.dataset.copy ?? "")?.textContent;
    if (!button || !text) return;
    // Without TLS a browser has no clipboard to give.
    const copied = navigator.clipboard?.writeText(text) ?? Promise.reject(new Error("no clipboard"));
    void copied.then(
      () => {
        button.textContent = "Copied";
        announce("Copied.");
      },
      () => announce("This browser does not let it be copied. Select it and copy it by hand."),
    );
  });
}
