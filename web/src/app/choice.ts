// A choice of the coach that this browser remembers.

import { createStore, type StoreApi, useStore } from "zustand";

export type Choice<T extends string> = StoreApi<{ value: T }>;

export function keptChoice<T extends string>(
  name: string,
  fallback: T,
  allowed: readonly T[],
): Choice<T> {
  const key = `amber-tally.${name}`;
  const stored = localStorage.getItem(key) as T | null;
  const value = stored && allowed.includes(stored) ? stored : fallback;
  const store = createStore(() => ({ value }));
  store.subscribe((state) => {
    if (localStorage.getItem(key) !== state.value) localStorage.setItem(key, state.value);
  });
  // What is chosen in one tab is chosen in all.
  window.addEventListener("storage", (event) => {
    const told = event.key === key ? (event.newValue as T | null) : null;
    if (told && allowed.includes(told)) store.setState({ value: told });
  });
  return store;
}

/** The choice as it stands, and how to choose otherwise. */
export function useChoice<T extends string>(choice: Choice<T>): [T, (value: T) => void] {
  return [useStore(choice, (state) => state.value), (value) => choice.setState({ value })];
}
