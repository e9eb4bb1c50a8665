/** Security headers of every answer. */

/** Styles are set by script on elements we make; scripts only from our own files, or hashed by the build. */
function policy(fromBuild: string | null, isBuilt: boolean): string {
  const scripts = isBuilt ? (/script-src ([^;]*)/.exec(fromBuild ?? "")?.[1] ?? "'self'") : "'self' 'unsafe-inline'";
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

/** `isBuilt`: no under npm run dev alone, where scripts stand in the page and have no hash. */
export function secured(response: Response, { isBuilt = true } = {}): Response {
  const headers = new Headers(response.headers);
  const own = headers.get("x-file-policy");
  headers.delete("x-file-policy");
  headers.set("content-security-policy", own ?? policy(headers.get("content-security-policy"), isBuilt));
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
