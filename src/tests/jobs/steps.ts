/** Steps that several jobs share. See docs/jobs.md. */

import type { Page } from "@playwright/test";
import { expect, openWorkbench, settled, signIn } from "../helpers.ts";
import { Hand, keepCount } from "./hand.ts";
import limits from "./limits.json" with { type: "json" };

export async function begin(page: Page, code: string): Promise<Hand> {
  await signIn(page, "coordinator");
  await openWorkbench(page, code, "intake");
  return new Hand(page);
}
export const station = (page: Page, name: string) =>
  page.getByRole("navigation", { name: "Stations" }).getByRole("link", { name: new RegExp(`^${name}`) });
export const button = (page: Page, name: string | RegExp) =>
  page.getByRole("button", { name, exact: typeof name === "string" });
/** Publishes from where one is; `looked`: after the review, which is offered alone where something warns. */
export async function publish(hand: Hand, looked: "at once" | "after review" = "at once"): Promise<void> {
  const { page } = hand;
  await settled(page);
  if (looked === "after review") {
    await hand.press(button(page, "Review"));
    await settled(page);
  }
  await hand.press(page.getByRole("button", { name: /^Publish/ }));
  await expect(page.getByText("Published. Everyone sees it now.")).toBeVisible();
}
export const dialogOf = (page: Page) => page.getByRole("dialog");
/** A new item, said in one line of its dialog; Enter drafts it. */
export async function newItem(hand: Hand, line: string): Promise<void> {
  await hand.press(button(hand.page, "New item"));
  await hand.type(dialogOf(hand.page).getByLabel("In one line, or in the fields below"), line, "Enter");
  await expect(dialogOf(hand.page)).toHaveCount(0);
}
export function done(hand: Hand, job: number, how: "by screen" | "by line" = "by screen"): void {
  const counted = hand.actions.length;
  keepCount({ job, counted, byLine: how === "by line" ? counted : null }, hand);
  const limit = (limits as Record<string, { counted?: number; byLine?: number }>)[job];
  const most = limit?.[how === "by line" ? "byLine" : "counted"];
  expect(counted, hand.actions.join("; ")).toBeLessThanOrEqual(most ?? 0);
}

/** How far into the term a moment is, 0 to 1: where it stands on the time rail. */
export async function shareOfTerm(page: Page, moment: string): Promise<number> {
  const course = new URL(page.url()).pathname.split("/")[2];
  const { plan } = await (await page.request.get(`/api/courses/${course}/plan`)).json();
  const [start, end] = [Date.parse(`${plan.course.termStart}T00:00Z`), Date.parse(`${plan.course.termEnd}T23:00Z`)];
  return (Date.parse(moment) - start) / (end - start);
}

/** The registrar's number of the nth student of the demo. */
export const idOf = (at: number) => String(240_037 + 37 * at).padStart(8, "0");
export const ten = Array.from({ length: 10 }, (_, at) => idOf(at));
