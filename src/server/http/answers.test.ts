/** What every answer of the server has in common: headers, tags, problem details, bodies that are read or refused. */
import type { APIContext } from "astro";
import { describe, expect, test } from "vitest";
import { z } from "zod";
import { endpoint } from "../../api/endpoint.ts";
import { config } from "../config.ts";
import { answering } from "./answer.ts";
import { readBody } from "./body.ts";
import { notFound } from "./guard.ts";
import { json, problem, tagged } from "./problem.ts";
import { findRoute, routes } from "./routes.ts";
import { secured } from "./security.ts";

const asked = (body: string) => new Request("http://x.example/", { method: "POST", body });

describe("security headers", () => {
  test("the build's hashes stay in the policy for scripts; nothing else of it is taken over", () => {
    const built = "script-src 'self' 'sha256-abc'; style-src 'sha256-def'; default-src *";
    const { headers } = secured(new Response("", { headers: { "content-security-policy": built } }));
    const policy = headers.get("content-security-policy") ?? "";
    expect(policy).toContain("script-src 'self' 'sha256-abc';");
    expect(policy).toContain("default-src 'none'");
    expect(policy).not.toContain("sha256-def");
    expect(secured(new Response("")).headers.get("content-security-policy")).toContain("script-src 'self';");
  });
  test("nothing of somebody's page is kept, unless the answer says how it may be", () => {
    expect(secured(new Response("")).headers.get("cache-control")).toBe("private, no-store");
    const own = new Response("", { headers: { "cache-control": "private, no-cache" } });
    expect(secured(own).headers.get("cache-control")).toBe("private, no-cache");
  });
  test("status, body and headers of the answer stay", async () => {
    const answer = secured(new Response("gone", { status: 404, headers: { "x-own": "1" } }));
    expect([answer.status, await answer.text(), answer.headers.get("x-own")]).toEqual([404, "gone", "1"]);
  });
});

describe("answers", () => {
  test("a problem says what, where and what next, in the standard's fields", async () => {
    const answer = problem(409, "Not drafted", "The group is gone. Choose another.", { code: "group.gone" });
    expect(answer.headers.get("content-type")).toBe("application/problem+json; charset=utf-8");
    expect(await answer.json()).toEqual({
      type: "about:blank",
      title: "Not drafted",
      status: 409,
      detail: "The group is gone. Choose another.",
      code: "group.gone",
    });
  });
  test("whoever has the tag is not sent the body again, and it is not even made", async () => {
    let made = 0;
    const body = () => json({ made: ++made });
    const first = tagged(new Request("http://x.example/"), "plan-3", body);
    expect([first.status, first.headers.get("etag"), await first.json()]).toEqual([200, '"plan-3"', { made: 1 }]);
    const again = new Request("http://x.example/", { headers: { "if-none-match": '"plan-3"' } });
    expect(tagged(again, "plan-3", body).status).toBe(304);
    expect(made).toBe(1);
    expect(tagged(again, "plan-4", body).status).toBe(200);
  });
  test("what is not there is told as a page or as a problem, and names nothing", async () => {
    const page = await notFound(false).text();
    expect(page).toContain("There is nothing at this address");
    expect((await notFound(true).json()).detail).toBe("There is nothing at this address.");
    expect(json({ a: 1 }, { status: 201 }).status).toBe(201);
  });
});

describe("bodies", () => {
  const Schema = z.object({ name: z.string().min(1), inner: z.array(z.object({ size: z.number() })) });
  const refusal = async (text: string) => {
    const answer = await readBody(asked(text), Schema);
    if (!(answer instanceof Response)) throw new Error("accepted");
    return [answer.status, (await answer.json()).detail];
  };
  test("one that fits is given as its schema says, without what the schema does not know", async () => {
    const text = JSON.stringify({ name: "a", inner: [], more: 1 });
    expect(await readBody(asked(text), Schema)).toEqual({ name: "a", inner: [] });
  });
  test("one that does not fit is told with the place, and nothing was changed", async () => {
    expect(await refusal('{"name":"a","inner":[{"size":"x"}]}')).toEqual([
      400,
      expect.stringMatching(/^inner\.0\.size: .*Nothing was changed\.$/),
    ]);
    expect(await refusal("not json")).toEqual([400, "The request holds no readable JSON. Nothing was changed."]);
    expect(await refusal("[]")).toEqual([400, expect.stringMatching(/^the request: /)]);
  });
});

describe("an endpoint", () => {
  const One = endpoint("POST", "/x", "staff", {
    says: "One.",
    query: z.object({ at: z.coerce.number().int() }),
    body: z.object({ name: z.string() }),
    answer: z.strictObject({ name: z.string() }),
    status: 201,
  });
  const ask = (address: string, body: string, work: Parameters<typeof answering<typeof One>>[1]) =>
    answering(
      One,
      work,
    )({
      url: new URL(`http://x.example/${address}`),
      request: asked(body),
    } as unknown as APIContext) as Promise<Response>;
  test("is asked as its contract reads, and answers with its status", async () => {
    const answer = await ask("?at=3", '{"name":"a"}', ({ query, body }) => ({ name: `${body.name} ${query.at + 1}` }));
    expect([answer.status, await answer.json()]).toEqual([201, { name: "a 4" }]);
  });
  test("says what is wrong with an address or a body before anything is done", async () => {
    const never = () => {
      throw new Error("done");
    };
    expect((await ask("?at=x", '{"name":"a"}', never)).status).toBe(400);
    expect((await ask("?at=3", '{"name":1}', never)).status).toBe(400);
  });
  test("a refusal of its own goes out as it is; where tests ask for it, another answer than the contract's fails", async () => {
    const refusal = new Response(null, { status: 409 });
    expect(await ask("?at=3", '{"name":"a"}', () => refusal)).toBe(refusal);
    const wrong = () => ({ name: "a", more: 1 });
    expect((await ask("?at=3", '{"name":"a"}', wrong)).status).toBe(201);
    process.env.AMBER_CHECK_ANSWERS = "1";
    try {
      await expect(ask("?at=3", '{"name":"a"}', wrong)).rejects.toThrow("POST /x does not answer as its contract says");
    } finally {
      delete process.env.AMBER_CHECK_ANSWERS;
    }
  });
});

describe("the configuration", () => {
  test("tells every fault at once, by the name of its variable", () => {
    const before = { ...process.env };
    Object.assign(process.env, { AMBER_LOG_LEVEL: "loud", AMBER_ADDRESS: "nowhere" });
    try {
      expect(() => config()).toThrow(/AMBER_LOG_LEVEL is "loud".*AMBER_ADDRESS is "nowhere"/);
    } finally {
      process.env = before;
    }
    expect(config().AMBER_REGISTRAR_PATIENCE).toBe(8000);
  });
});

describe("the list of routes", () => {
  test("names every route once, and HEAD asks as GET", () => {
    const keys = routes.map(({ method, pattern }) => `${method} ${pattern}`);
    expect(new Set(keys).size).toBe(keys.length);
    expect(findRoute("/", "HEAD")).toEqual(findRoute("/", "GET"));
    expect(findRoute("/", "PUT")).toBeUndefined();
    expect(findRoute("/404", "GET")).toBeUndefined();
  });
  test("nothing of a course is open to whoever has no role in it", () => {
    for (const { pattern, who } of routes) {
      if (pattern.includes("[course]"))
        expect([pattern, ["coordinator", "staff", "student", "reader", "member"].includes(who)]).toEqual([
          pattern,
          true,
        ]);
    }
  });
});
