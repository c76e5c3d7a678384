import { useSearchParams } from "react-router";

/** Changes parts of the question that the address holds; an empty part leaves it. */
export function useAsk(): (part: Record<string, string>) => void {
  const [, setParams] = useSearchParams();
  return (part) =>
    setParams(
      (now) => {
        const next = new URLSearchParams(now);
        for (const [key, value] of Object.entries(part)) {
          if (value) next.set(key, value);
          else next.delete(key);
        }
        return next;
      },
      { replace: true },
    );
}
