/** The canvas of the spans: the theme's colours, and drawing at most once a frame. */
import { type RefObject, useEffect, useRef, useState } from "react";
import type { Size } from "../../../kit/useSize.ts";
import { type Colours, coloursOf, draw, type Scene } from "./draw.ts";

/** Draws the scene after every change of it; gives what draws it again after scrolling. */
export function usePicture(
  canvas: RefObject<HTMLCanvasElement | null>,
  frame: RefObject<HTMLElement | null>,
  size: Size,
  scene: Omit<Scene, "width" | "height" | "colours" | "scrolled">,
): () => void {
  const [colours, setColours] = useState<Colours | null>(null);
  const pending = useRef(0);
  const latest = useRef<() => void>(() => {});
  useEffect(() => {
    const read = () => canvas.current && setColours(coloursOf(canvas.current));
    read();
    const observer = new MutationObserver(read);
    observer.observe(document.documentElement, { attributes: true, attributeFilter: ["data-theme"] });
    return () => observer.disconnect();
  }, [canvas]);

  latest.current = () => {
    const context = canvas.current?.getContext("2d");
    if (!context || !colours || size.width === 0) return;
    const ratio = devicePixelRatio || 1;
    const [wide, tall] = [Math.round(size.width * ratio), Math.round(size.height * ratio)];
    if (context.canvas.width !== wide || context.canvas.height !== tall) {
      context.canvas.width = wide;
      context.canvas.height = tall;
    }
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    draw(context, { ...scene, ...size, colours, scrolled: frame.current?.scrollTop ?? 0 });
  };
  const redraw = () => {
    cancelAnimationFrame(pending.current);
    pending.current = requestAnimationFrame(() => latest.current());
  };
  useEffect(redraw);
  useEffect(() => () => cancelAnimationFrame(pending.current), []);
  return redraw;
}
