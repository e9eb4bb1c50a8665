/**
 * Keeps a student's page as things are without a reload: when the clock opens or closes something, when the course was
 * published anew, and when somebody is no longer in it. What is being typed is never taken away.
 */
const main = () => document.querySelector<HTMLElement>("main[data-fresh]");
/** Longest time between two questions, in milliseconds. */
const longest = 60_000;

// A rich text is kept in a hidden field, which says what it was.
const isTouched = (field: Element): boolean =>
  (field instanceof HTMLInputElement && field.dataset.was !== undefined && field.value !== field.dataset.was) ||
  (field instanceof HTMLInputElement && field.type !== "hidden" && field.value !== field.defaultValue) ||
  (field instanceof HTMLTextAreaElement && field.value !== field.defaultValue);
function isTyping(): boolean {
  const active = document.activeElement;
  const inField = active?.closest("main :is(input, textarea, select, [contenteditable])") ?? null;
  return inField !== null || [...document.querySelectorAll("main :is(input, textarea)")].some(isTouched);
}

const foldedIn = (within: Element) => [...within.querySelectorAll("details")];
/** What is folded, by what stands on it, and which of those that say the same it is. */
function keyOf(one: HTMLDetailsElement, within: Element): string {
  const says = (each: HTMLDetailsElement) => each.querySelector("summary")?.textContent?.trim() ?? "";
  const same = foldedIn(within).filter((each) => says(each) === says(one));
  return `${says(one)} ${same.indexOf(one)}`;
}

async function renew(): Promise<void> {
  if (isTyping()) return;
  const answer = await fetch(location.href, { headers: { accept: "text/html" } });
  if (!answer.ok || answer.redirected) return location.reload();
  const page = new DOMParser().parseFromString(await answer.text(), "text/html");
  const next = page.querySelector("main");
  const old = main();
  if (!next || !old || isTyping()) return;
  // What the reader had unfolded stays so.
  const isUnfolded = new Set(foldedIn(old).flatMap((one) => (one.open ? [keyOf(one, old)] : [])));
  for (const one of foldedIn(next)) if (isUnfolded.has(keyOf(one, next))) one.open = true;
  main()?.replaceWith(document.adoptNode(next));
  // Forms of the newer page keep what is written in them, too.
  document.dispatchEvent(new Event("page shown"));
}

let known: string | null = null;
let timer: ReturnType<typeof setTimeout> | undefined;
async function ask(): Promise<void> {
  clearTimeout(timer);
  let wait = longest;
  try {
    const answer = await fetch(`/course/${main()?.dataset.fresh}/fresh`);
    if (answer.status === 404 || answer.redirected) return location.reload();
    if (answer.ok) {
      const { tag, next, now }: { tag: string; next: number | null; now: number } = await answer.json();
      if (known !== null && known !== tag) await renew();
      known = tag;
      if (next !== null) wait = Math.min(wait, Math.max(500, next - now + 200));
    }
  } catch {
    // Without the server the page stays as it is.
  }
  timer = setTimeout(() => void ask(), wait);
}

// A look-through shows one moment, and is left alone.
if (main()) {
  document.addEventListener("visibilitychange", () => document.visibilityState === "visible" && void ask());
  void ask();
}
