/** Security headers of every answer. */

/** Styles are set by script on elements we make; scripts only from our own files, or hashed by the build. */
function policy(fromBuild: string | null): string {
  // While it is developed scripts stand in the page and have no hash; a build has no such branch.
  const scripts = import.meta.env.DEV
    ? "'self' 'unsafe-inline'"
    : (/script-src ([^;]*)/.exec(fromBuild ?? "")?.[1] ?? "'self'");
  return [
    "default-src 'none'",
    `script-src ${scripts}`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data:",
    "font-src 'self'",
    "connect-src 'self'",
    "worker-src 'self'",
    "form-action 'self'",
    "frame-ancestors 'none'",
    "base-uri 'none'",
  ].join("; ");
}

export function secured(response: Response): Response {
  const headers = new Headers(response.headers);
  const own = headers.get("x-file-policy");
  headers.delete("x-file-policy");
  headers.set("content-security-policy", own ?? policy(headers.get("content-security-policy")));
  headers.set("x-content-type-options", "nosniff");
  headers.set("referrer-policy", "same-origin");
  headers.set("cross-origin-opener-policy", "same-origin");
  headers.set("permissions-policy", "camera=(), microphone=(), geolocation=()");
  // Pages are somebody's own: nothing of them is kept by a shared cache or shown by the back button after sign-out.
  if (!headers.has("cache-control")) headers.set("cache-control", "private, no-store");
  return new Response(response.body, {
    status: response.status,
    statusText: response.statusText,
    headers,
  });
}
