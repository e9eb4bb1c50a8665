import { expect, test } from "vitest";
import { once, onceOfTwo, onceWith } from "./memo.ts";

const counted = () => {
  let made = 0;
  return { make: () => ++made, times: () => made };
};

test("a question about one object is answered once for each, also where nothing is the answer", () => {
  const { make, times } = counted();
  const ask = once((_: object) => {
    make();
    return undefined;
  });
  const [a, b] = [{}, {}];
  expect([ask(a), ask(a), ask(b), times()]).toEqual([undefined, undefined, undefined, 2]);
});

test("of two objects each two are asked once, in their order", () => {
  const { make, times } = counted();
  const ask = onceOfTwo((_one: object, _other: object) => make());
  const [a, b] = [{}, {}];
  expect([ask(a, b), ask(a, b), ask(b, a), ask(a, a), times()]).toEqual([1, 1, 2, 3, 3]);
});

test("with what it was asked with, the last answer stands until any of that is another", () => {
  const { make, times } = counted();
  const ask = onceWith((_: object, _t: number, _list: object) => make());
  const [a, list] = [{}, []];
  expect([ask(a, 1, list), ask(a, 1, list), ask(a, 2, list), ask(a, 1, list), ask(a, 1, [])]).toEqual([1, 1, 2, 3, 4]);
  expect(times()).toBe(4);
});
