import { parse } from "content-disposition";
import { expect, test } from "vitest";
import { naughty } from "../../tests/naughty.ts";
import { attachment } from "./attachment.ts";

test("whatever a file is called, its header can be sent, is one line, and leads back to the name", () => {
  for (const text of naughty.filter((one) => one.isWellFormed())) {
    const header = attachment(`${text}.csv`, { isShown: true });
    // What no header may hold throws here.
    new Headers({ "content-disposition": header });
    expect(header).toMatch(/^inline; filename[\x20-\x7e]*$/);
    const back = parse(header).parameters.filename ?? "";
    // A path is cut to its last part: no browser saves elsewhere.
    expect(`${text}.csv`.endsWith(back)).toBe(true);
    expect(back).not.toBe("");
  }
});
