import { config } from "../config.ts";

/** Where this application stands, as its readers reach it: what addresses in files and feeds begin with. */
export function originOf(request: Request): string {
  const own = config().AMBER_ADDRESS;
  if (own) return own.replace(/\/+$/, "");
  const { protocol, host } = new URL(request.url);
  return `${protocol}//${request.headers.get("host") ?? host}`;
}
