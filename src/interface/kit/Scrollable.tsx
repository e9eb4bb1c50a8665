import type { ComponentProps } from "react";

/** What may be longer or wider than its place: it scrolls, by keyboard too where nothing in it can be focused. */
export const Scrollable = (props: ComponentProps<"section">) => (
  // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keyboard
  <section {...props} tabIndex={0} />
);
