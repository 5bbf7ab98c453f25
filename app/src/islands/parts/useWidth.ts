import type { RefCallback } from 'react';
import { useSize } from './useSize';

/** Width of an element in pixels, kept up to date; 0 until it is on the page. */
export function useWidth<T extends HTMLElement>(): [RefCallback<T>, number, T | null] {
  const [ref, { width }, element] = useSize<T>();
  return [ref, width, element];
}
