/** Endpoints answer by their contract: what is asked is read by its schema, what is answered is typed by its own. */
import { gunzipSync } from "node:zlib";
import type { APIContext, APIRoute } from "astro";
import Negotiator from "negotiator";
import type { AnswerOf, Endpoint, Read } from "../../api/endpoint.ts";
import { config } from "../config.ts";
import { readBody } from "./body.ts";
import { isJson, json, longJson, problem } from "./problem.ts";

/** A request as an endpoint reads it. */
export type Asked<One extends Endpoint> = Pick<APIContext, "request" | "url" | "params" | "locals" | "cookies"> & {
  query: Read<One["query"]>;
  body: Read<One["body"]>;
};
type Given<One extends Endpoint> = One["answer"] extends undefined ? Response : AnswerOf<One> | Response;

/** Longer answers are not held against their schema: reading a large plan again would take longer than making it. */
const longestChecked = 2_000_000;

/** A value as the endpoint answers it. */
export function answered<One extends Endpoint>(endpoint: One, value: AnswerOf<One>): Response {
  if (isChecking(endpoint)) hold(endpoint, JSON.stringify(value));
  return (endpoint.isLong ? longJson : json)(value, { status: endpoint.status ?? 200 });
}

/** The same of a value that is written down already. */
export function answeredJson(endpoint: Endpoint, text: string, headers: Record<string, string> = {}): Response {
  if (isChecking(endpoint)) hold(endpoint, text);
  return new Response(text, { status: endpoint.status ?? 200, headers: { ...isJson, ...headers } });
}

/** The same of JSON that is gzipped already, as it is for whoever takes that. */
export function answeredGzip(endpoint: Endpoint, { headers }: Request, bytes: Uint8Array): Response {
  const all = { ...isJson, vary: "accept-encoding", "cache-control": "private, no-store" };
  const accepted = new Negotiator({ headers: { "accept-encoding": headers.get("accept-encoding") ?? "" } });
  const plain = () => gunzipSync(bytes).toString("utf8");
  if (isChecking(endpoint)) hold(endpoint, plain());
  if (accepted.encoding(["gzip", "identity"]) !== "gzip") return new Response(plain(), { headers: all });
  return new Response(bytes as BodyInit, { headers: { ...all, "content-encoding": "gzip" } });
}

const isChecking = ({ answer }: Endpoint): boolean => answer !== undefined && config().AMBER_CHECK_ANSWERS === "1";

/** Where tests ask for it, an answer that is not as its schema says is a failure. */
function hold(endpoint: Endpoint, text: string): void {
  if (text.length > longestChecked) return;
  const parsed = endpoint.answer?.safeParse(JSON.parse(text));
  if (parsed?.success === false)
    throw new Error(
      `${endpoint.method} ${endpoint.path} does not answer as its contract says: ${parsed.error.message}`,
    );
}

/** The query of an address by its schema, or the answer that says what is wrong with it. */
function readQuery(url: URL, endpoint: Endpoint): unknown {
  if (!endpoint.query) return undefined;
  const parsed = endpoint.query.safeParse(Object.fromEntries(url.searchParams));
  if (parsed.success) return parsed.data;
  const [first] = parsed.error.issues;
  return problem(400, "Not as expected", `${first?.path.join(".") || "the address"}: ${first?.message}.`);
}

/** The handler of an endpoint. `work` gives the answer, or a response of its own: a refusal, a file, a stream. */
export const answering =
  <One extends Endpoint>(endpoint: One, work: (asked: Asked<One>) => Promise<Given<One>> | Given<One>): APIRoute =>
  async (context) => {
    const query = readQuery(context.url, endpoint);
    if (query instanceof Response) return query;
    const body = endpoint.body ? await readBody(context.request, endpoint.body) : undefined;
    if (body instanceof Response) return body;
    const { request, url, params, locals, cookies } = context;
    const given = await work({ request, url, params, locals, cookies, query, body } as Asked<One>);
    return given instanceof Response ? given : answered(endpoint, given as AnswerOf<One>);
  };
