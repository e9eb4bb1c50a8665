import { readFileSync } from "node:fs";
import { expect, test } from "vitest";
import { glossary, wordsPage } from "./glossary.ts";

test("the page of the guide is the list that is shown (npx vitest -u writes it)", async () => {
  await expect(wordsPage()).toMatchFileSnapshot("../../../docs/guide/words.md");
  expect(readFileSync("docs/guide/README.md", "utf8")).toContain("(words.md)");
});

test("each word is explained once, in a sentence", () => {
  const words = glossary.map(([word]) => word.toLowerCase());
  expect(new Set(words).size).toBe(words.length);
  for (const [word, meaning] of glossary) expect(meaning, word).toMatch(/^[A-Z].*\.$/);
});
