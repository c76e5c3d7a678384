// A day of the calendar, picked or typed as the browser's people write it.

import { Input } from "antd";
import { lazy, Suspense } from "react";
import type { DayFieldProps } from "./DayPicker";

// The calendar is more than the rest of most pages.
const DayPicker = lazy(async () => ({ default: (await import("./DayPicker")).DayPicker }));

export function DayField(props: DayFieldProps) {
  return (
    <Suspense fallback={<Input value={props.value} readOnly aria-label={props["aria-label"]} />}>
      <DayPicker {...props} />
    </Suspense>
  );
}
