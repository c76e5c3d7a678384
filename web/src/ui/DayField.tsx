// A day of the calendar, picked or typed as the browser's people write it.

import { lazy, Suspense } from "react";
import type { DayFieldProps } from "./DayPicker";

// The calendar is more than the rest of most pages.
const DayPicker = lazy(async () => ({ default: (await import("./DayPicker")).DayPicker }));

export function DayField(props: DayFieldProps) {
  return (
    <Suspense fallback={<span className="quiet">{props.value}</span>}>
      <DayPicker {...props} />
    </Suspense>
  );
}
