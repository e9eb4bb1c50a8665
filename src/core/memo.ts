/**
 * What was worked out of an object stays known for as long as the object does. Rows, tables and plans are never changed in
 * place, so that the same object always has the same answer.
 */

/** A question about one object, answered once. */
export function once<Key extends object, Answer>(compute: (key: Key) => Answer): (key: Key) => Answer {
  const kept = new WeakMap<Key, { answer: Answer }>();
  return (key) => {
    let known = kept.get(key);
    if (!known) {
      known = { answer: compute(key) };
      kept.set(key, known);
    }
    return known.answer;
  };
}

/** A question about two objects, answered once for each two. */
export function onceOfTwo<One extends object, Other extends object, Answer>(
  compute: (one: One, other: Other) => Answer,
): (one: One, other: Other) => Answer {
  const ofOne = once((one: One) => once((other: Other) => compute(one, other)));
  return (one, other) => ofOne(one)(other);
}

/** A question about an object and what it was asked with: the last answer stands until any of that is another. */
export function onceWith<Key extends object, With extends readonly unknown[], Answer>(
  compute: (key: Key, ...asked: With) => Answer,
): (key: Key, ...asked: With) => Answer {
  const kept = new WeakMap<Key, { asked: With; answer: Answer }>();
  return (key, ...asked) => {
    const known = kept.get(key);
    if (known?.asked.every((one, at) => one === asked[at])) return known.answer;
    const answer = compute(key, ...asked);
    kept.set(key, { asked, answer });
    return answer;
  };
}
