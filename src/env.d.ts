/// <reference types="astro/client" />
/** A worker that takes what it has in common with the page from the same scripts (scripts/lib/sharing-workers.mjs). */
declare module "*?sharing" {
  const script: new (options?: WorkerOptions) => Worker;
  export default script;
}
declare namespace App {
  interface Locals {
    account: import("./server/accounts/accounts.ts").Account;
    /** Set on every route that names a course and asks for a role in it. */
    member: import("./server/http/guard.ts").CourseMember;
    /** Set there too, unless the route is answered without the plan. */
    access: import("./server/http/guard.ts").CourseAccess;
    hasSession: boolean;
    /** Set by a page that may be kept: what it was made from, and until when it stays so by the clock. */
    keep?: { stamp: import("./server/student/kept-pages.ts").Stamp; until: number };
  }
}
