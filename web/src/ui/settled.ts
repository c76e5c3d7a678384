import { useEffect, useState } from "react";

/** A value once it has stood still for `ms`; 0 follows it at once. Keeps what is heavy to
 * draw out of the way of quick keys. */
export function useSettled<T>(value: T, ms: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    if (ms === 0) return;
    const wait = setTimeout(() => setSettled(value), ms);
    return () => clearTimeout(wait);
  }, [value, ms]);
  return ms === 0 ? value : settled;
}
