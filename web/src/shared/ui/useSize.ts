import { useLayoutEffect, useState, type RefObject } from "react";

/** Width and height of an element in CSS pixels, as they change; `fallback` until they are known. */
export function useSize(of: RefObject<HTMLElement | null>, fallback: [number, number]): [number, number] {
  const [size, setSize] = useState(fallback);
  useLayoutEffect(() => {
    const element = of.current;
    if (!element || typeof ResizeObserver === "undefined") return;
    const take = () => {
      const next: [number, number] = [element.clientWidth, element.clientHeight];
      if (next[0] > 0 && next[1] > 0) setSize((old) => (old[0] === next[0] && old[1] === next[1] ? old : next));
    };
    take();
    const observer = new ResizeObserver(take);
    observer.observe(element);
    return () => observer.disconnect();
  }, [of]);
  return size;
}
