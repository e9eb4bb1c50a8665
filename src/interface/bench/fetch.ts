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
  const body = (await response.json().catch(() => ({}))) as Record<string, unknown>;
  if (response.ok) return body as Answer;
  if (response.status === 401) location.assign(`/sign-in?next=${encodeURIComponent(location.pathname)}`);
  return {
    failed: true,
    status: response.status,
    detail: String(body.detail ?? `The server answered ${response.status}.`),
    body,
  };
}

export const getJson = <Answer extends object>(address: string) => ask<Answer>(address, {});
export const sendJson = <Answer extends object>(method: "POST" | "DELETE", address: string, body: unknown) =>
  ask<Answer>(address, {
    method,
    headers: { "content-type": "application/json" },
    body: JSON.stringify(body),
  });
export const postJson = <Answer extends object>(address: string, body: unknown) =>
  sendJson<Answer>("POST", address, body);
