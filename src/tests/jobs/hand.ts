/**
 * A hand that does a job in the real interface and counts as the rules of docs/jobs.md say: one for a press, a drag, a field
 * typed into, a choice in an open list, a choice of files, and a wait of more than a second. Reading, scrolling, Tab and
 * the Enter that ends a field are free.
 */
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { expect, type Locator, type Page } from "@playwright/test";

export class Hand {
  readonly actions: string[] = [];
  constructor(readonly page: Page) {}

  async press(what: Locator): Promise<void> {
    this.actions.push(`press ${await nameOf(what)}`);
    await what.click();
  }
  /** Presses at a place along something, as on a ruler. */
  async pressAt(what: Locator, share: number): Promise<void> {
    this.actions.push(`press ${await nameOf(what)}`);
    const box = await what.boundingBox();
    if (!box) throw new Error("not on the screen");
    await what.click({ position: { x: box.width * share, y: box.height / 2 } });
  }
  async drag(what: Locator, onto: Locator): Promise<void> {
    this.actions.push(`drag ${await nameOf(what)}`);
    await what.scrollIntoViewIfNeeded();
    const [from, to] = [await what.boundingBox(), await onto.boundingBox()];
    if (!from || !to) throw new Error("not on the screen");
    const { mouse } = this.page;
    await mouse.move(from.x + 20, from.y + 9);
    await mouse.down();
    await mouse.move(to.x + 20, to.y + 60, { steps: 5 });
    await mouse.move(to.x + 24, to.y + 64, { steps: 2 });
    await mouse.up();
  }
  /** Ticks or unticks: the box that one sees is its label's. */
  async tick(what: Locator): Promise<void> {
    this.actions.push(`press ${await nameOf(what)}`);
    await this.page.locator("label", { has: what }).click();
  }
  /** Types into a field; what ends it is free. */
  async type(field: Locator, text: string, end?: "Enter" | "Tab"): Promise<void> {
    this.actions.push(`type "${text.split("\n")[0]}"`);
    await field.fill(text);
    if (end) await field.press(end);
  }
  /** Pastes into a field, as out of a mail or a spreadsheet. */
  async paste(field: Locator, text: string, end?: "Enter"): Promise<void> {
    this.actions.push(`paste ${text.split("\n").length} lines`);
    await field.focus();
    await field.evaluate((input, pasted) => {
      const clipboardData = new DataTransfer();
      clipboardData.setData("text/plain", pasted);
      input.dispatchEvent(new ClipboardEvent("paste", { clipboardData, bubbles: true, cancelable: true }));
    }, text);
    if (end) await field.press(end);
  }
  /** Types a line in the top rule, and Enter does it. */
  async line(text: string): Promise<void> {
    const field = this.page.getByRole("combobox", { name: "Find any student, group, item or action" });
    this.actions.push(`line "${text}"`);
    await this.page.keyboard.press("Control+k");
    await field.fill(text);
    await field.press("Enter");
    await expect(field).toHaveValue("");
  }
  /** Pastes several lines in the top rule: one paste, however many they are. */
  async lines(texts: string[]): Promise<void> {
    const field = this.page.getByRole("combobox", { name: "Find any student, group, item or action" });
    await this.paste(field, texts.join("\n"));
  }
  /** Opens a list and chooses in it: two actions. */
  async choose(field: Locator, option: string): Promise<void> {
    await this.press(field);
    await this.press(this.page.getByRole("option", { name: option }).first());
  }
  async files(input: Locator, paths: string[]): Promise<void> {
    this.actions.push(`choose ${paths.length === 1 ? "a file" : `${paths.length} files`}`);
    await input.setInputFiles(paths);
  }
  /** Waits for something that takes longer than a second. */
  async until(what: Locator): Promise<void> {
    const from = performance.now();
    await what.waitFor();
    if (performance.now() - from > 1000) this.actions.push("wait");
  }
}

async function nameOf(what: Locator): Promise<string> {
  const label = await what.first().evaluate((node) => node.getAttribute("aria-label") ?? node.textContent ?? "");
  return `"${label.trim().slice(0, 40)}"`;
}

export interface JobCount {
  job: number;
  counted: number;
  /** By typed lines. */
  byLine: number | null;
}

/** Keeps what was counted, for the script that prints it. */
export function keepCount(count: JobCount, hand: Hand): void {
  const folder = process.env.AMBER_JOBS ?? ".";
  writeFileSync(
    join(folder, `job-${count.job}${count.byLine === null ? "" : "-line"}.json`),
    JSON.stringify({ ...count, actions: hand.actions }),
  );
}
