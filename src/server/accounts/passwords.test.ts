import { describe, expect, it } from "vitest";
import { hashPassword, isPassword, whyNotPassword } from "./passwords.ts";

const own = ["marta", "marta@alder.example", "Quist, Marta", "Alder Row College"];

describe("whether a password may be one", () => {
  it.each(["seven herons under glass", "k8#fQ2!vTz", "correct horse battery staple"])("%s may", (password) => {
    expect(whyNotPassword(password, own)).toBeNull();
  });
  it.each(["qwertyuiop", "password123!", "aaaaaaaaaaaa", "1234567890", "letmein2026"])("common: %s", (password) => {
    expect(whyNotPassword(password, own)).toContain("guessed early");
  });
  it.each(["marta.quist", "alder row marta", "QuistQuist99", "college-marta-7"])(
    "made of what others know: %s",
    (password) => {
      expect(whyNotPassword(password, own)).toContain("guessed early");
    },
  );
  it("has at least ten characters and at most two hundred, and a long one is judged at once", () => {
    expect(whyNotPassword("k8#fQ2!vT", own)).toBe("Choose a password of at least 10 characters.");
    expect(whyNotPassword("heron kettle ".repeat(15), own)).toBeNull();
    expect(whyNotPassword("heron kettle ".repeat(16), own)).toBe("Choose a password of at most 200 characters.");
  });
  it("is known again by its hash, and no other is", async () => {
    const hash = await hashPassword("seven herons under glass");
    expect(await isPassword("seven herons under glass", hash)).toBe(true);
    expect(await isPassword("Seven herons under glass", hash)).toBe(false);
  });
});
