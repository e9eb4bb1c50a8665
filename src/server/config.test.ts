import { readFileSync } from "node:fs";
import { join } from "node:path";
import { afterEach, describe, expect, it } from "vitest";
import { config, variables } from "./config.ts";

const before = { ...process.env };
afterEach(() => {
  process.env = { ...before };
});

describe("the configuration", () => {
  it("is told of whole: docs/operating.md lists every variable", () => {
    const said = readFileSync(join(import.meta.dirname, "../../docs/operating.md"), "utf8");
    expect(variables.filter((name) => !said.includes(`\`${name}\``))).toEqual([]);
  });
  it("names every fault at once, with what each is to be", () => {
    Object.assign(process.env, { AMBER_PROXIES: "-1", AMBER_THREADS: "none", AMBER_NOW: "today" });
    expect(() => config()).toThrow(
      /AMBER_THREADS is "none".*AMBER_NOW is "today": a moment such as.*AMBER_PROXIES is "-1": a number of proxies/,
    );
  });
  it("takes a variable that is set to nothing as not set", () => {
    process.env.AMBER_LOG_LEVEL = "";
    expect(config().AMBER_LOG_LEVEL).toBe("info");
  });
});
