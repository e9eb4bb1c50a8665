/**
 * The one list of routes and who may use each. The middleware asks it before anything else; a route that is
 * not here does not exist. Source: semantics.md section 9.
 */

import { type Endpoint, type Method, patternOf, type RequiredRole } from "../../api/endpoint.ts";
import { endpoints } from "../../api/index.ts";
import type { BodyLimit } from "./counted-body.ts";

export interface Route {
  pattern: string;
  method: Method;
  who: RequiredRole;
  /** How much may be sent to it. */
  takes: BodyLimit;
  /** Whether it is answered without the plan (`locals.member` alone): a large course takes long to read. */
  isLight: boolean;
}

const route = (
  method: Method,
  pattern: string,
  who: RequiredRole,
  takes: BodyLimit = "form",
  isLight = false,
): Route => ({ method, pattern, who, takes, isLight });
const jsonLimit = ({ sends, isLarge }: Endpoint): BodyLimit => (sends ? "file" : isLarge ? "largeJson" : "json");

export const routes: Route[] = [
  route("GET", "/", "account"),
  route("GET", "/sign-in", "anyone"),
  route("POST", "/sign-in", "anyone"),
  route("GET", "/sign-in/code", "anyone"),
  route("POST", "/sign-in/code", "anyone"),
  route("GET", "/sign-in/with/[provider]", "anyone"),
  route("GET", "/sign-in/back/[provider]", "anyone"),
  route("POST", "/sign-out", "account"),
  route("GET", "/sign-out/[provider]", "anyone"),
  route("GET", "/set-up/[token]", "anyone"),
  route("POST", "/set-up/[token]", "anyone", "text"),
  route("GET", "/password", "anyone"),
  route("POST", "/password", "anyone"),
  route("GET", "/password/[token]", "anyone"),
  route("POST", "/password/[token]", "anyone"),
  route("GET", "/health/live", "anyone"),
  route("GET", "/health/ready", "anyone"),
  route("GET", "/metrics", "anyone"),
  route("GET", "/merge", "account"),
  route("POST", "/merge", "account", "text"),
  route("GET", "/sections/[course]", "coordinator"),
  route("POST", "/sections/[course]", "coordinator"),
  route("GET", "/dues", "account"),
  route("POST", "/dues", "account"),
  route("GET", "/self", "account"),
  route("POST", "/self", "account"),
  route("GET", "/self/data", "account"),

  route("GET", "/administration", "administrator"),
  route("GET", "/administration/courses", "administrator"),
  route("POST", "/administration/courses", "administrator"),
  route("GET", "/administration/terms", "administrator"),
  route("POST", "/administration/terms", "administrator", "text"),
  route("GET", "/administration/people", "administrator"),
  route("POST", "/administration/people", "administrator"),
  route("GET", "/administration/people/[account]", "administrator"),
  route("GET", "/administration/erase/[account]", "administrator"),
  route("POST", "/administration/erase/[account]", "administrator"),
  route("GET", "/administration/sign-in", "administrator"),
  route("GET", "/administration/letters", "administrator"),
  route("POST", "/administration/letters", "administrator"),
  route("GET", "/administration/health", "administrator"),

  route("POST", "/uploads", "account", "file"),
  route("GET", "/uploads/[upload]", "account"),
  route("PATCH", "/uploads/[upload]", "account", "file"),
  route("DELETE", "/uploads/[upload]", "account"),

  route("GET", "/workbench/[course]/[...station]", "staff", "form", true),
  route("GET", "/wall/[course]/[layer]", "coordinator"),
  route("GET", "/look/[course]/[person]", "staff"),
  route("GET", "/look/[course]/[person]/groups", "staff"),
  route("GET", "/look/[course]/[person]/group/[group]", "coordinator"),
  route("GET", "/look/[course]/[person]/item/[item]", "staff"),
  route("GET", "/look/[course]/[person]/item/[item]/attempt", "staff"),
  route("GET", "/look/[course]/[person]/item/[item]/attempt/[attempt]", "staff"),
  route("GET", "/look/[course]/[person]/index/[index]", "staff"),

  route("GET", "/look/[course]/[person]/people", "coordinator"),
  route("GET", "/look/[course]/[person]/search", "staff"),
  route("GET", "/look/[course]/[person]/file/[item]", "staff"),
  route("GET", "/look/[course]/beside", "coordinator"),
  route("GET", "/report/[course]", "coordinator"),
  route("GET", "/group/[course]/[group]", "staff"),
  route("POST", "/group/[course]/[group]", "staff", "file"),
  route("GET", "/try/[course]/[item]", "staff"),
  route("POST", "/try/[course]/[item]", "staff"),
  route("GET", "/threads/[course]/[item]", "staff"),
  route("POST", "/threads/[course]/[item]", "staff", "file"),

  route("GET", "/look/[course]/[person]/calendar", "staff"),
  route("GET", "/look/[course]/[person]/marks", "staff"),

  route("GET", "/calendar/[token]", "anyone"),
  route("GET", "/join", "account"),
  route("POST", "/join", "account"),
  route("GET", "/course/[course]", "reader"),
  route("GET", "/course/[course]/item/[item]", "reader"),
  route("POST", "/course/[course]/item/[item]", "student", "file"),
  route("GET", "/course/[course]/item/[item]/file/[file]", "reader"),
  route("GET", "/course/[course]/item/[item]/attempt", "student"),
  route("POST", "/course/[course]/item/[item]/attempt", "student", "file"),
  route("POST", "/course/[course]/item/[item]/attempt/save", "student", "json"),
  route("GET", "/course/[course]/item/[item]/attempt/[attempt]", "student"),
  route("GET", "/course/[course]/index/[index]", "reader"),
  route("GET", "/course/[course]/file/[item]", "reader"),
  route("GET", "/course/[course]/search", "reader"),
  route("GET", "/course/[course]/calendar", "reader"),
  route("GET", "/course/[course]/marks", "student"),
  route("POST", "/course/[course]/calendar", "reader"),
  route("GET", "/course/[course]/fresh", "reader"),
  route("GET", "/course/[course]/notices", "member"),
  route("POST", "/course/[course]/notices", "member"),
  route("GET", "/course/[course]/write", "student"),
  route("POST", "/course/[course]/write", "student", "text"),
  route("GET", "/course/[course]/people", "student"),
  route("GET", "/course/[course]/group/[group]", "student"),
  route("POST", "/course/[course]/group/[group]", "student", "file"),
  route("GET", "/course/[course]/group/[group]/file/[file]", "student"),
  route("GET", "/course/[course]/groups", "student"),
  route("POST", "/course/[course]/groups", "student"),

  route("GET", "/plan.schema.json", "anyone"),
  route("GET", "/set-up.schema.json", "anyone"),
  route("GET", "/openapi.json", "anyone"),

  ...endpoints.map((one) => route(one.method, patternOf(one), one.who, jsonLimit(one), one.isLight)),
];

/** The route of a request; HEAD asks as GET. */
export function findRoute(pattern: string, method: string): Route | undefined {
  const asked = method === "HEAD" ? "GET" : method;
  return routes.find((candidate) => candidate.pattern === pattern && candidate.method === asked);
}
