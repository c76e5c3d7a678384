// Whether the server said that nobody is signed in any more. What is on screen stays
// there meanwhile, so that nothing typed is lost.

let out = false;
const listeners = new Set<() => void>();

export const signedOut = {
  get: () => out,
  set: (now: boolean) => {
    out = now;
    for (const heard of listeners) heard();
  },
  subscribe: (heard: () => void) => {
    listeners.add(heard);
    return () => listeners.delete(heard);
  },
};
