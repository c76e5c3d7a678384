import { useState } from "react";

/** What is typed, kept through a reload of this tab, until it is let go. */
export function useKept<T>(name: string, begin: T): [T, (next: T) => void, () => void] {
  const [value, setValue] = useState<T>(() => read(name) ?? begin);
  return [
    value,
    (next) => {
      setValue(next);
      try {
        sessionStorage.setItem(name, JSON.stringify(next));
      } catch {
        // A browser that keeps nothing keeps it on screen all the same.
      }
    },
    () => {
      try {
        sessionStorage.removeItem(name);
      } catch {
        // Nothing was kept.
      }
    },
  ];
}

function read<T>(name: string): T | undefined {
  try {
    const kept = sessionStorage.getItem(name);
    return kept === null ? undefined : (JSON.parse(kept) as T);
  } catch {
    return undefined;
  }
}
