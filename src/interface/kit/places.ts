/** A list of which nothing but the place tells one entry from another, each with its place as its key. */
export const byPlace = <One>(list: readonly One[]): { key: string; place: number; one: One }[] =>
  list.map((one, place) => ({ key: String(place), place, one }));
