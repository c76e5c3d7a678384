import { useEffect } from "react";

/** Keeps the screen lit while a session goes on, where the browser can; where it cannot, or
 * the battery says no, the screen does as it always does. */
export function useScreenLit(wanted: boolean) {
  useEffect(() => {
    if (!wanted || !("wakeLock" in navigator)) return;
    let lock: WakeLockSentinel | undefined;
    let over = false;
    const ask = async () => {
      if (document.visibilityState !== "visible" || over) return;
      lock = await navigator.wakeLock.request("screen").catch(() => undefined);
      if (over) void lock?.release();
    };
    void ask();
    // A lock ends when the page is hidden.
    document.addEventListener("visibilitychange", ask);
    return () => {
      over = true;
      document.removeEventListener("visibilitychange", ask);
      void lock?.release();
    };
  }, [wanted]);
}
