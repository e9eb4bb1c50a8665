/** "1 student", "1,204 students": a count with its noun. `many`: the plural, where it is not the singular with an s. */
export const plural = (count: number, one: string, many = `${one}s`): string =>
  `${count.toLocaleString("en-GB")} ${count === 1 ? one : many}`;
