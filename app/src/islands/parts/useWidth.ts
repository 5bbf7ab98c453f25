import { type RefCallback, useEffect, useState } from 'react';

/** Width of an element in pixels, kept up to date; 0 until it is on the page. */
export function useWidth<T extends HTMLElement>(): [RefCallback<T>, number, T | null] {
  const [element, setElement] = useState<T | null>(null);
  const [width, setWidth] = useState(0);
  useEffect(() => {
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => setWidth(entry?.contentRect.width ?? 0));
    observer.observe(element);
    return () => observer.disconnect();
  }, [element]);
  return [setElement, width, element];
}
