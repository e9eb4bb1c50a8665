/** Asking the server by the contract of its API; what fails is a value with a sentence for a person. */
import { type AnswerOf, addressOf, type Endpoint, type Sent } from "../../api/endpoint.ts";

export interface Failure {
  failed: true;
  /** 0 where no answer came. */
  status: number;
  detail: string;
  body: Record<string, unknown>;
}
export const isFailure = (value: object | null): value is Failure => value !== null && "failed" in value;

/** What an endpoint is asked with: what its path names in brackets, its query, and its body where it has one. */
export type Question<One extends Endpoint> = {
  params?: Record<string, string>;
  query?: Sent<One["query"]>;
} & (One["body"] extends undefined ? { body?: undefined } : { body: Sent<One["body"]> });
type Asking<One extends Endpoint> = One["body"] extends undefined ? [Question<One>?] : [Question<One>];

/** Asks an endpoint of a course. `course`: the course's address in the API. Answers are as the contract says, which the tests hold the server to. */
export async function ask<One extends Endpoint>(
  course: string,
  endpoint: One,
  ...[question]: Asking<One>
): Promise<NonNullable<AnswerOf<One>> | Failure> {
  const { params, query, body } = (question ?? {}) as Question<Endpoint>;
  const address = addressOf(endpoint, course, { params, query: query as object | undefined });
  let response: Response;
  try {
    response = await fetch(address, {
      method: endpoint.method,
      ...(body === undefined ? {} : { headers: { "content-type": "application/json" }, body: JSON.stringify(body) }),
    });
  } catch {
    return {
      failed: true,
      status: 0,
      detail: "The server does not answer. Check the connection; what you drafted before is kept.",
      body: {},
    };
  }
  return read<NonNullable<AnswerOf<One>>>(response);
}

async function read<Answer extends object>(response: Response): Promise<Answer | Failure> {
  const whole = (await response.json().catch(() => null)) as Record<string, unknown> | null;
  if (response.ok && whole) return whole as Answer;
  // An answer that broke off is no answer.
  if (response.ok)
    return {
      failed: true,
      status: 0,
      detail: "The server's answer broke off. Try again; what you drafted before is kept.",
      body: {},
    };
  const body = whole ?? {};
  if (response.status === 401) location.assign(`/sign-in?next=${encodeURIComponent(location.pathname)}`);
  return {
    failed: true,
    status: response.status,
    detail: String(body.detail ?? `The server answered ${response.status}.`),
    body,
  };
}

/** Sends work of which the server tells how far it is, a line of JSON at a time; the last one is the answer. */
export async function askWithProgress<One extends Endpoint>(
  course: string,
  endpoint: One,
  { body }: { body: Sent<One["body"]> },
  onProgress: (progress: { done: number; of: number }) => void,
): Promise<AnswerOf<One> | Failure> {
  const lost: Failure = {
    failed: true,
    status: 0,
    detail: "The server stopped answering. It is not known whether this was done: press again, it is done once.",
    body: {},
  };
  try {
    const response = await fetch(addressOf(endpoint, course), {
      method: endpoint.method,
      headers: { "content-type": "application/json", accept: "application/x-ndjson" },
      body: JSON.stringify(body),
    });
    if (!response.ok || !response.body || !response.headers.get("content-type")?.includes("ndjson"))
      return read<AnswerOf<One> & object>(response);
    const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
    let text = "";
    for (;;) {
      const { done, value } = await reader.read();
      text += value ?? "";
      const lines = text.split("\n");
      text = lines.pop() ?? "";
      for (const line of lines) {
        const said = JSON.parse(line);
        if (!("status" in said)) onProgress(said);
        else if (said.status < 300) return said.body;
        else return { failed: true, status: said.status, detail: String(said.body.detail), body: said.body };
      }
      if (done) return lost;
    }
  } catch {
    return lost;
  }
}
