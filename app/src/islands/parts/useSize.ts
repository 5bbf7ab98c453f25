import { type RefCallback, useEffect, useState } from 'react';

/** Size of an element in pixels, kept up to date; nothing until it is on the page. */
export function useSize<T extends HTMLElement>(): [RefCallback<T>, { readonly width: number; readonly height: number }, T | null] {
  const [element, setElement] = useState<T | null>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => {
      const { width = 0, height = 0 } = entry?.contentRect ?? {};
      setSize({ width, height });
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, [element]);
  return [setElement, size, element];
}
