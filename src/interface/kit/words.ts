/** "1 student", "3 students"; irregular plurals are given. */
export const plural = (count: number, one: string, many = `${one}s`): string =>
  `${count.toLocaleString("en-GB")} ${count === 1 ? one : many}`;
