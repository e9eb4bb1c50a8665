/** What a person of OneRoster is called: by the name that they go by, where it is said apart. The same by file and by service. */
export interface NamedUser {
  givenName?: string | null | undefined;
  familyName?: string | null | undefined;
  preferredGivenName?: string | null | undefined;
  preferredFamilyName?: string | null | undefined;
  /** What the REST standard calls the two. */
  preferredFirstName?: string | null | undefined;
  preferredLastName?: string | null | undefined;
}

export const givenNameOf = (user: NamedUser | undefined): string =>
  user?.preferredFirstName || user?.preferredGivenName || user?.givenName || "";
export const familyNameOf = (user: NamedUser | undefined): string =>
  user?.preferredLastName || user?.preferredFamilyName || user?.familyName || "";
