// The size of an element as it is now, also where the element comes later or is another.
import { useCallback, useRef, useState } from "react";
import type { Size } from "./view";

export function useSize(first: Size): [(el: HTMLElement | null) => void, Size, { current: HTMLElement | null }] {
  const [size, setSize] = useState(first);
  const watch = useRef<ResizeObserver | null>(null);
  const element = useRef<HTMLElement | null>(null);
  const ref = useCallback((el: HTMLElement | null) => {
    watch.current?.disconnect();
    element.current = el;
    if (!el) return;
    const measure = () => setSize({ width: el.clientWidth, height: el.clientHeight });
    measure();
    watch.current = new ResizeObserver(measure);
    watch.current.observe(el);
  }, []);
  return [ref, size, element];
}
