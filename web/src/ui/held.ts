import { useRef } from "react";

/** The last answer there was, so that a refused question leaves what was seen on screen. */
export function useHeld<T>(answer: T | undefined): T | undefined {
  const last = useRef(answer);
  if (answer !== undefined) last.current = answer;
  return answer ?? last.current;
}
