/** Shows a newer state of the page that one is on, without leaving it, and says aloud what happened. */

/** An address, as path and query, without what chose which post is answered, and what was sent last. */
export function plainPath(address: string): string {
  const url = new URL(address, location.href);
  for (const name of ["reply", "edit", "sent"]) url.searchParams.delete(name);
  return url.pathname + url.search;
}

/** Says something to whoever listens rather than looks. */
export function announce(says: string): void {
  let line = document.getElementById("announced");
  if (!line) {
    line = document.createElement("p");
    line.id = "announced";
    line.className = "visually-hidden";
    line.setAttribute("role", "status");
    document.body.append(line);
  }
  line.textContent = says;
}

/** What a fold is known by on both states of a page: its form, or else how it is called. */
const nameOfFold = (fold: HTMLDetailsElement): string =>
  fold.querySelector<HTMLElement>("form[data-keep]")?.dataset.keep ??
  (fold.querySelector("summary")?.firstChild?.textContent ?? "").trim();

/** What somebody opened stays open, but for the fold of what was sent. */
function keepFoldsOpen(here: Element, next: Element, sent: string): void {
  const open = new Set([...here.querySelectorAll<HTMLDetailsElement>("details[open]")].map(nameOfFold));
  open.delete(sent);
  for (const fold of next.querySelectorAll("details")) if (open.has(nameOfFold(fold))) fold.open = true;
}

/** Puts what the page holds now in the place of what it held; goes to what was just sent, or to the form it was sent by. */
export function showPage(page: Document, url: string, keep = ""): void {
  const [here, next] = [document.querySelector("main"), page.querySelector("main")];
  if (!here || !next) {
    location.assign(url);
    return;
  }
  keepFoldsOpen(here, next, keep);
  here.replaceWith(document.adoptNode(next));
  // The address of what was sent is said once: a reload says nothing of it.
  history.replaceState(null, "", plainPath(url));
  document.dispatchEvent(new Event("page shown"));
  const sent = document.querySelector<HTMLElement>("#sent");
  if (!sent) {
    const form = keep === "" ? null : document.querySelector(`form[data-keep="${CSS.escape(keep)}"]`);
    (form?.closest("details")?.querySelector("summary") ?? next).focus({ preventScroll: true });
    if (form) announce("Kept.");
    return;
  }
  sent.tabIndex = -1;
  sent.focus({ preventScroll: true });
  // Whoever listens hears what gets the focus.
  sent.scrollIntoView({ block: "center" });
}
