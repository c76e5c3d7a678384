// Room for a table that may be wider than the page: it scrolls, by keyboard too.

import type { ReactNode } from "react";

export function TableRoom({ of, children }: { of: string; children: ReactNode }) {
  return (
    // biome-ignore lint/a11y/useSemanticElements: a table's room is no set of fields
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must scroll by keyboard
    <div className="table-room" role="group" aria-label={of} tabIndex={0}>
      {children}
    </div>
  );
}
