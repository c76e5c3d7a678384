import { useKeyOf, useKeysAreOn } from "../app/shortcuts";

/** The key that does something, while there is one. */
export function KeyHint({ of }: { of: string }) {
  const key = useKeyOf(of);
  return key ? <kbd>{key}</kbd> : null;
}

/** A key that answers a question, while single keys do anything. */
export function AnswerKey({ of }: { of: string | number }) {
  return useKeysAreOn() ? <kbd>{of}</kbd> : null;
}
