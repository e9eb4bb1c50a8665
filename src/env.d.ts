/// <reference types="astro/client" />
declare namespace App {
  interface Locals {
    account: import("./server/accounts.ts").Account;
    /** Set on every route that names a course and asks for a role in it. */
    seat: import("./server/guard.ts").CourseSeat;
    hasSession: boolean;
  }
}
