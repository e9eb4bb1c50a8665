/**
 * Effects and values that go by their causes: they are made anew when one of those is another, whatever else they read. What
 * they read is of the render in which a cause changed. React's own hooks are for whatever goes by all that it reads.
 */
import { type DependencyList, type EffectCallback, useEffect, useLayoutEffect, useMemo } from "react";

export function useEffectWhen(causes: DependencyList, effect: EffectCallback): void {
  // biome-ignore lint/correctness/useExhaustiveDependencies: the causes are the caller's
  useEffect(effect, causes);
}

export function useLayoutEffectWhen(causes: DependencyList, effect: EffectCallback): void {
  // biome-ignore lint/correctness/useExhaustiveDependencies: the causes are the caller's
  useLayoutEffect(effect, causes);
}

export function useMemoWhen<Made>(causes: DependencyList, make: () => Made): Made {
  // biome-ignore lint/correctness/useExhaustiveDependencies: the causes are the caller's
  return useMemo(make, causes);
}
