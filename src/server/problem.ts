/** Answers that are not pages: JSON, and errors as problem details (RFC 9457). */
export const json = (body: unknown, init: ResponseInit = {}): Response =>
  new Response(JSON.stringify(body), {
    ...init,
    headers: { "content-type": "application/json; charset=utf-8", ...init.headers },
  });

/** `detail` says what is wrong, where, and what to do next. */
export function problem(status: number, title: string, detail: string, more: Record<string, unknown> = {}): Response {
  return new Response(JSON.stringify({ type: "about:blank", title, status, detail, ...more }), {
    status,
    headers: { "content-type": "application/problem+json; charset=utf-8" },
  });
}

/** JSON with an ETag; 304 where the asker has it already. */
export function tagged(request: Request, tag: string, body: () => unknown): Response {
  const etag = `"${tag}"`;
  const headers = { etag, "cache-control": "private, no-cache" };
  if (request.headers.get("if-none-match") === etag) return new Response(null, { status: 304, headers });
  return json(body(), { headers });
}
