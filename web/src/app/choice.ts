// A choice of the coach that this browser remembers.

export interface Choice<T extends string> {
  get: () => T;
  set: (value: T) => void;
  subscribe: (heard: () => void) => () => void;
}

export function keptChoice<T extends string>(
  name: string,
  fallback: T,
  allowed: readonly T[],
): Choice<T> {
  const key = `amber-tally.${name}`;
  const heard = new Set<() => void>();
  const stored = localStorage.getItem(key) as T | null;
  let value = stored && allowed.includes(stored) ? stored : fallback;
  return {
    get: () => value,
    set: (next) => {
      value = next;
      localStorage.setItem(key, next);
      for (const tell of heard) tell();
    },
    subscribe: (tell) => {
      heard.add(tell);
      return () => heard.delete(tell);
    },
  };
}
