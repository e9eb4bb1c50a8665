/** docs/performance.md, from what `npm run bench` measured. */

/** Milliseconds as one reads them: seconds from ten of them on. */
export const sayTime = (value) =>
  value >= 10_000
    ? `${(value / 1000).toFixed(1)} s`
    : value < 10
      ? `${value.toFixed(2)} ms`
      : `${Math.round(value)} ms`;
const cell = (text) => text.replaceAll("|", "\\|");
const count = (number) => number.toLocaleString("en-GB");
/** How much longer the last took than as many times another as there are more students. */
const overLinear = (last, from) => (last.milliseconds / from.milliseconds / (last.students / from.students)).toFixed(2);

const besides = ({ name, note, ours, against }) =>
  against.map(
    (other) =>
      `| ${cell(name)} | ${cell(note)} | ${sayTime(ours)} | ${cell(other.name)} (${other.kind}) | ${sayTime(other.milliseconds)} | ${(ours / other.milliseconds).toFixed(2)} |`,
  );
const grows = ({ name, growth }) => {
  const [last, ...smaller] = [...growth].reverse();
  const over = smaller.reverse().map((from) => overLinear(last, from));
  return `| ${cell(name)} | ${[...growth.map(({ milliseconds }) => sayTime(milliseconds)), ...over].join(" | ")} |`;
};

/** `results`: as benchmarks/results.json holds them. */
export function performancePage({ at, node, processor, cores, rows }) {
  const [beside, growing] = [rows.filter(({ growth }) => !growth), rows.filter(({ growth }) => growth)];
  const sizes = growing[0]?.growth.map(({ students }) => count(students)) ?? [];
  const heads = [...sizes.map((size) => `${size} students`), ...sizes.slice(0, -1).map((size) => `from ${size}`)];
  const held = rows.filter(({ memory, growth }) => memory && !growth);
  return `# Performance

\`npm run bench\` measures this and writes this page; \`npm run bench -- NAMES\` measures a part anew, and \`-- --quick\` shows that all of it
runs. Last written ${at.slice(0, 10)}, on ${cores} cores of ${processor} with Node.js ${node}; what counts is the ratio, since ours and what it is
held against ran in turn in the same process.

## Beside floors and peers

A floor is the least work that there could be, such as reading the inputs once; a peer is a library or a plain way of doing the same.

| what | sizes | ours | beside | takes | ratio |
| --- | --- | --- | --- | --- | --- |
${beside.flatMap(besides).join("\n")}

${held.map(({ name, note, memory }) => `- ${name} (${note}): at most ${count(memory)} MB of memory.`).join("\n")}

## Growth

What is done to all of a course of 400 items, 20 layers and 40 sections, in one process, one size after another. The last columns are how much
longer the largest takes than linear growth from a smaller one would be: 1 is linear, less is better. What takes a few milliseconds at 500
lives in the processor's own memory there, and in no other at 50,000.

| what | ${heads.join(" | ")} |
| --- | ${heads.map(() => "---").join(" | ")} |
${growing.map(grows).join("\n")}

${growing[0]?.memory ? `The process that did this held ${count(growing[0].memory)} MB at its end.\n` : ""}`.replace(
    /\n{3,}/g,
    "\n\n",
  );
}
