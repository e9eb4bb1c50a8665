/** Numbers that a command is given by name: `numbersGiven("npm run soak", { minutes: 10 })`, with the usual ones where one is not given. */
import { parseArgs } from "node:util";

/** `words`: what was typed. Where a name is unknown, or what is given is no number above nought, the command ends with an example. */
export function numbersGiven(command, usual, words = process.argv.slice(2)) {
  const options = Object.fromEntries(Object.keys(usual).map((name) => [name, { type: "string" }]));
  try {
    const { values } = parseArgs({ args: words, options });
    const pairs = Object.entries(usual).map(([name, number]) => [name, Number(values[name] ?? number)]);
    if (pairs.every(([, number]) => number > 0)) return Object.fromEntries(pairs);
  } catch {
    // Told below, as a number that is none.
  }
  const example = Object.entries(usual).map(([name, number]) => `--${name} ${number}`);
  console.error(`Give numbers above nought: ${command} -- ${example.join(" ")}`);
  process.exit(2);
}
