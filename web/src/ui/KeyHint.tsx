import { useKeyOf } from "../app/shortcuts";

/** The key that does something, while there is one. */
export function KeyHint({ of }: { of: string }) {
  const key = useKeyOf(of);
  return key ? <kbd>{key}</kbd> : null;
}
