import { type RefObject, useLayoutEffect, useState } from "react";

/** The inside of an element in pixels, as it is and as it becomes. */
export interface Size {
  width: number;
  height: number;
}

export function useSize(measured: RefObject<HTMLElement | null>): Size {
  const [size, setSize] = useState<Size>({ width: 0, height: 0 });
  useLayoutEffect(() => {
    const element = measured.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    observer.observe(element);
    return () => observer.disconnect();
  }, [measured]);
  return size;
}
