import { join } from "node:path";
import { v4 } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { closeDatabase } from "../store/database.ts";
import { migrate } from "../store/migrate.ts";
import { countTry } from "./sign-in-tries.ts";

beforeAll(() => migrate(join(import.meta.dirname, "../../../database"), () => {}));
afterAll(closeDatabase);

describe("tries to sign in", () => {
  it("keep nobody waiting for having begun sooner than somebody else at the same address", async () => {
    const address = v4();
    const at = Date.now();
    for (const early of [0, 5, 40, 900]) expect(await countTry(v4(), address, at - early)).toEqual({ wait: 0 });
  });
  it("of one login at the same time count each other: five are let through, whatever their order", async () => {
    const login = v4();
    const at = Date.now();
    const tries = await Promise.all([7, 0, 3, 9, 1, 5, 2, 8].map((early) => countTry(login, v4(), at - early)));
    expect(tries.filter(({ wait }) => wait === 0)).toHaveLength(5);
  });
});
