/**
 * Work whose answer many may wait for at once is done once: whoever asks while it is under way gets that answer. A class that
 * opens a large course at the hour would otherwise read it as often as there are students.
 */
export function onceAtATime<Answer>(): (key: string, work: () => Promise<Answer>) => Promise<Answer> {
  const underWay = new Map<string, Promise<Answer>>();
  return (key, work) => {
    const there = underWay.get(key);
    if (there) return there;
    const begun = work().finally(() => underWay.delete(key));
    underWay.set(key, begun);
    return begun;
  };
}
