// Where days, values, the goal and its forecast stand on a progress strip.

import type { Schemas } from "../app/api";

type ProgressRead = Schemas["ProgressRead"];

export interface Scale {
  /** Pixels of a date, given as days since 1970. */
  x: (day: number) => number;
  /** Pixels of a value, internal units. */
  y: (value: number) => number;
  /** Values with a line across, internal units. */
  lines: number[];
  /** Room of one day's bundle, px. */
  bundle: number;
  /** Last day of the axis, days since 1970. */
  until: number;
}

/** Days since 1970 of a date like 2026-03-04. */
export const dayNumber = (date: string): number => Date.parse(date) / 86_400_000;

const GOAL_AHEAD = 70;

/** The scale of a strip so wide and high; `step` is the shown unit in internal ones. */
export function scaleOf(
  progress: ProgressRead,
  size: { width: number; height: number; left: number; right: number; top: number },
  step: number,
): Scale {
  const { days, forecast } = progress;
  const first = dayNumber(days[0]?.date ?? "2026-01-01");
  const last = dayNumber(days.at(-1)?.date ?? "2026-01-01");
  const span = Math.max(last - first, 14);
  // A forecast takes at most as much room as what was.
  const ahead = forecast && !forecast.reached ? Math.min(GOAL_AHEAD, span) : span * 0.03;
  const until = last + ahead;
  const values = days.flatMap((day) => [
    ...day.values,
    ...(day.level ? [day.level.low, day.level.high] : []),
  ]);
  if (forecast) values.push(forecast.goal);
  const least = Math.min(...values);
  const most = Math.max(...values);
  const room = Math.max(most - least, step) * 0.06;
  const [low, high] = [least - room, most + room];
  const wide = size.width - size.left - size.right;
  const gaps = days.slice(1).map((day, i) => dayNumber(day.date) - dayNumber(days[i]?.date ?? ""));
  const usual = gaps.sort((a, b) => a - b)[Math.floor(gaps.length / 2)] ?? span;
  const bundle = Math.max(6, Math.min(54, (usual / (until - first)) * wide * 0.8));
  // The first bundle stands inside, beside the scale.
  const begin = size.left + bundle / 2 + 4;
  const x = (day: number) => begin + ((day - first) / (until - first)) * (wide - bundle / 2 - 4);
  const y = (value: number) =>
    size.top + ((high - value) / (high - low)) * (size.height - size.top);
  return {
    x,
    y,
    until,
    lines: roundLines(low / step, high / step).map((line) => line * step),
    bundle,
  };
}

/** Three to six round numbers between two. */
export function roundLines(low: number, high: number): number[] {
  const rough = (high - low) / 4;
  const ten = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].map((m) => m * ten).find((s) => s >= rough) ?? rough;
  const lines: number[] = [];
  for (let line = Math.ceil(low / step) * step; line <= high; line += step) lines.push(line);
  return lines;
}
