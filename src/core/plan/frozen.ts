/** The value, and all that it holds, made unchangeable: rows are made out of it, and none may change the next. */
export function frozen<Value>(value: Value): Value {
  if (typeof value !== "object" || value === null) return value;
  for (const one of Object.values(value)) frozen(one);
  return Object.freeze(value);
}
