/** JSON to and from the server; what fails is a value with a sentence for a person. */
export interface Failure {
  failed: true;
  /** 0 where no answer came. */
  status: number;
  detail: string;
  body: Record<string, unknown>;
}
export const isFailure = (value: object): value is Failure => "failed" in value;

async function ask<Answer extends object>(address: string, init: RequestInit): Promise<Answer | Failure> {
  let response: Response;
  try {
    response = await fetch(address, init);
  } catch {
    return {
      failed: true,
      status: 0,
      detail: "The server does not answer. Check the connection; what you drafted before is kept.",
      body: {},
    };
  }
  return read<Answer>(response);
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
export async function postLines(
  address: string,
  body: unknown,
  onProgress: (progress: { done: number; of: number }) => void,
): Promise<Record<string, unknown> | Failure> {
  const lost: Failure = {
    failed: true,
    status: 0,
    detail: "The server stopped answering. It is not known whether this was done: press again, it is done once.",
    body: {},
  };
  try {
    const response = await fetch(address, {
      method: "POST",
      headers: { "content-type": "application/json", accept: "application/x-ndjson" },
      body: JSON.stringify(body),
    });
    if (!response.ok || !response.body || !response.headers.get("content-type")?.includes("ndjson"))
      return read<Record<string, unknown>>(response);
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

export const getJson = <Answer extends object>(address: string) => ask<Answer>(address, {});
export const sendJson = <Answer extends object>(method: "POST" | "PATCH" | "DELETE", address: string, body: unknown) =>
  ask<Answer>(address, {
    method,
    headers: { "content-type": "application/json" },
    body: JSON.stringify(body),
  });
export const postJson = <Answer extends object>(address: string, body: unknown) =>
  sendJson<Answer>("POST", address, body);
