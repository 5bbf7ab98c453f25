import { useEffect, useState } from 'react';

/** A value once it has stood for a while, in milliseconds: what is drawn or typed does not ask for every picture between. */
export function useSettled<T>(value: T, delay: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), delay);
    return () => clearTimeout(timer);
  }, [value, delay]);
  return settled;
}
