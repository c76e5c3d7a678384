import { type RefObject, useLayoutEffect, useState } from "react";

/** How wide an element is, px, whenever that changes. */
export function useWidth(box: RefObject<HTMLElement | null>): number {
  const [width, setWidth] = useState(900);
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const watch = new ResizeObserver(() => setWidth(element.clientWidth));
    watch.observe(element);
    setWidth(element.clientWidth);
    return () => watch.disconnect();
  }, [box]);
  return width;
}
