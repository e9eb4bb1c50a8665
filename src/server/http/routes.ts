/**
 * The one list of routes and who may use each. The middleware asks it before anything else; a route that is
 * not here does not exist. Source: semantics.md section 9.
 */

/**
 * `anyone`: also without a session. `account`: any session. The others need an open enrolment with that role in
 * the course that the address names; a member has any, a reader is a student or a visitor, staff are the coordinator and, within their
 * scope, instructors and support.
 */
export type RequiredRole = "anyone" | "account" | "coordinator" | "staff" | "student" | "reader" | "member";
export interface Route {
  pattern: string;
  method: "GET" | "POST" | "PATCH" | "DELETE";
  who: RequiredRole;
}

const route = (method: Route["method"], pattern: string, who: RequiredRole): Route => ({
  method,
  pattern,
  who,
});

export const routes: Route[] = [
  route("GET", "/", "account"),
  route("GET", "/sign-in", "anyone"),
  route("POST", "/sign-in", "anyone"),
  route("POST", "/sign-out", "account"),

  route("GET", "/workbench/[course]/[...station]", "staff"),
  route("GET", "/wall/[course]/[layer]", "coordinator"),
  route("GET", "/look/[course]/[person]", "coordinator"),
  route("GET", "/look/[course]/[person]/groups", "coordinator"),
  route("GET", "/look/[course]/[person]/group/[group]", "coordinator"),
  route("GET", "/look/[course]/[person]/item/[item]", "coordinator"),
  route("GET", "/look/[course]/[person]/index/[index]", "coordinator"),

  route("GET", "/look/[course]/[person]/people", "coordinator"),
  route("GET", "/look/[course]/[person]/search", "coordinator"),
  route("GET", "/look/[course]/[person]/file/[item]", "coordinator"),
  route("GET", "/look/[course]/beside", "coordinator"),
  route("GET", "/report/[course]", "coordinator"),
  route("GET", "/group/[course]/[group]", "staff"),
  route("POST", "/group/[course]/[group]", "staff"),
  route("GET", "/threads/[course]/[item]", "staff"),
  route("POST", "/threads/[course]/[item]", "staff"),

  route("GET", "/look/[course]/[person]/calendar", "coordinator"),
  route("GET", "/look/[course]/[person]/marks", "coordinator"),

  route("GET", "/calendar/[token]", "anyone"),
  route("GET", "/join", "account"),
  route("POST", "/join", "account"),
  route("GET", "/course/[course]", "reader"),
  route("GET", "/course/[course]/item/[item]", "reader"),
  route("POST", "/course/[course]/item/[item]", "student"),
  route("GET", "/course/[course]/item/[item]/file/[file]", "reader"),
  route("GET", "/course/[course]/index/[index]", "reader"),
  route("GET", "/course/[course]/file/[item]", "reader"),
  route("GET", "/course/[course]/search", "reader"),
  route("GET", "/course/[course]/calendar", "reader"),
  route("GET", "/course/[course]/marks", "student"),
  route("POST", "/course/[course]/calendar", "reader"),
  route("GET", "/course/[course]/fresh", "reader"),
  route("GET", "/course/[course]/notices", "member"),
  route("POST", "/course/[course]/notices", "member"),
  route("GET", "/course/[course]/people", "student"),
  route("GET", "/course/[course]/group/[group]", "student"),
  route("POST", "/course/[course]/group/[group]", "student"),
  route("GET", "/course/[course]/group/[group]/file/[file]", "student"),
  route("GET", "/course/[course]/groups", "student"),
  route("POST", "/course/[course]/groups", "student"),

  route("GET", "/api/courses/[course]/plan", "staff"),
  route("GET", "/api/courses/[course]/progress", "staff"),
  route("GET", "/api/courses/[course]/live", "staff"),
  route("POST", "/api/courses/[course]/live", "staff"),
  route("GET", "/api/courses/[course]/calendars", "coordinator"),
  route("POST", "/api/courses/[course]/calendars", "coordinator"),
  route("DELETE", "/api/courses/[course]/calendars/[address]", "coordinator"),
  route("GET", "/api/courses/[course]/draft", "staff"),
  route("POST", "/api/courses/[course]/draft", "staff"),
  route("GET", "/api/courses/[course]/proposals", "staff"),
  route("POST", "/api/courses/[course]/proposals", "staff"),
  route("POST", "/api/courses/[course]/proposals/[proposal]", "coordinator"),
  route("DELETE", "/api/courses/[course]/proposals/[proposal]", "staff"),
  route("GET", "/api/courses/[course]/staff-notes", "staff"),
  route("POST", "/api/courses/[course]/staff-notes", "staff"),
  route("POST", "/api/courses/[course]/publish", "staff"),
  route("PATCH", "/api/courses/[course]/publish", "coordinator"),
  route("DELETE", "/api/courses/[course]/publish", "coordinator"),
  route("GET", "/api/courses/[course]/messages", "staff"),
  route("POST", "/api/courses/[course]/messages", "staff"),
  route("POST", "/api/courses/[course]/messages/[message]", "staff"),
  route("GET", "/api/courses/[course]/plan-file", "coordinator"),
  route("POST", "/api/courses/[course]/roll-over", "coordinator"),
  route("GET", "/plan.schema.json", "anyone"),
  route("GET", "/api/courses/[course]/journal", "coordinator"),
  route("GET", "/api/courses/[course]/journal/[line]", "coordinator"),
  route("POST", "/api/courses/[course]/journal/[line]", "coordinator"),
  route("GET", "/api/courses/[course]/intake", "coordinator"),
  route("POST", "/api/courses/[course]/intake", "coordinator"),
  route("GET", "/api/courses/[course]/intake/[intake]", "coordinator"),
  route("DELETE", "/api/courses/[course]/intake/[intake]", "coordinator"),
  route("GET", "/api/courses/[course]/feed", "coordinator"),
  route("POST", "/api/courses/[course]/feed", "coordinator"),
  route("POST", "/api/courses/[course]/pulls", "coordinator"),
  route("GET", "/api/courses/[course]/pulls/[pull]", "coordinator"),
  route("DELETE", "/api/courses/[course]/pulls/[pull]", "coordinator"),
  route("GET", "/api/courses/[course]/directory", "coordinator"),
  route("POST", "/api/courses/[course]/staff", "coordinator"),
  route("GET", "/api/courses/[course]/audit", "coordinator"),
  route("POST", "/api/courses/[course]/files", "staff"),
  route("GET", "/api/courses/[course]/files/[file]", "coordinator"),
  route("POST", "/api/courses/[course]/marks", "staff"),
  route("GET", "/api/courses/[course]/attachments/[file]", "staff"),
  route("GET", "/api/courses/[course]/work", "staff"),
  route("POST", "/api/courses/[course]/work", "staff"),
  route("GET", "/api/courses/[course]/filters", "staff"),
  route("POST", "/api/courses/[course]/filters", "staff"),
  route("DELETE", "/api/courses/[course]/filters", "staff"),
];

/** The route of a request; HEAD asks as GET. */
export function findRoute(pattern: string, method: string): Route | undefined {
  const asked = method === "HEAD" ? "GET" : method;
  return routes.find((candidate) => candidate.pattern === pattern && candidate.method === asked);
}
