// Which shot a key or a tap is meant for.

import { useRef } from "react";

/** Nobody answers what has only just come on the screen: faster than this, a key was meant
 * for the shot that stood there before. */
export const REACTION_MS = 300;

export interface Meant {
  id: string;
  number: number;
}

/** Follows which shot stands on the screen; the answer tells which one an act is meant for
 * at that moment. An act is for that shot, whatever comes in meanwhile. */
export function useMeant(shown: Meant | undefined, now = () => performance.now()) {
  const seen = useRef<{ at: number; is: Meant | undefined; was: Meant | undefined }>({
    at: Number.NEGATIVE_INFINITY,
    is: shown,
    was: undefined,
  });
  if (seen.current.is?.id !== shown?.id) {
    // Chosen by the coach, or newly come: `chosen` tells below.
    seen.current = { at: now(), is: shown, was: seen.current.is };
  } else {
    seen.current.is = shown;
  }
  return {
    /** The shot that an act is meant for now. */
    meant: (): Meant | undefined => {
      const { at, is, was } = seen.current;
      return was && now() - at < REACTION_MS ? was : is;
    },
    /** The coach chose what stands there: it is meant from the start. */
    chosen: () => {
      seen.current = { ...seen.current, was: undefined };
    },
  };
}
