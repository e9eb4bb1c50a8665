/** "1 student", "1,204 students": a count with its noun. `many`: the plural, where it is not the singular with an s. */
import { sayNumber } from "./locale.ts";
export const plural = (count: number, one: string, many = `${one}s`): string =>
  `${sayNumber(count)} ${count === 1 ? one : many}`;
