import { useEffect, useRef } from "react";

/** How long a label is held until its word is told. */
const HELD_MS = 550;
/** How far a finger may stray meanwhile, px. */
const STILL_PX = 10;
/** What can be a label, rather than a text that happens to hold a word. */
const LABELS = "dt, th, label, legend, h2, h3, figcaption, small, span, p, b";
const LONGEST = 60;

/** Hears which label was held. */
export function useLongPress(hear: (label: string) => void) {
  const latest = useRef(hear);
  latest.current = hear;
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    let from = { x: 0, y: 0 };
    let told = false;
    const stop = () => clearTimeout(timer);
    const down = (event: PointerEvent) => {
      told = false;
      stop();
      const target = event.target as Element | null;
      if (!event.isPrimary || event.button !== 0) return;
      if (!target || target.closest("input, textarea, select, button, a, [role=dialog]")) return;
      const label = target.closest(LABELS)?.textContent?.trim() ?? "";
      if (!label || label.length > LONGEST) return;
      from = { x: event.clientX, y: event.clientY };
      timer = setTimeout(() => {
        told = true;
        getSelection()?.removeAllRanges();
        latest.current(label);
      }, HELD_MS);
    };
    const move = (event: PointerEvent) => {
      if (Math.hypot(event.clientX - from.x, event.clientY - from.y) > STILL_PX) stop();
    };
    // What the browser would offer for a held text is in the way of the word.
    const menu = (event: Event) => {
      if (told) event.preventDefault();
      told = false;
    };
    const all: [string, (event: never) => void][] = [
      ["pointerdown", down],
      ["pointermove", move],
      ["pointerup", stop],
      ["pointercancel", stop],
      ["contextmenu", menu],
    ];
    for (const [name, on] of all) addEventListener(name, on as EventListener);
    return () => {
      stop();
      for (const [name, on] of all) removeEventListener(name, on as EventListener);
    };
  }, []);
}
