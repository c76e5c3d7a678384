// Temperatures: in the unit in which they are typed, wherever they are shown.

import type { Units } from "./api";
import { keptChoice, useChoice } from "./choice";

export type TemperatureUnit = "c" | "f";

/** What the coach typed last; until then, what goes with their other units. */
const typedLast = keptChoice<TemperatureUnit | "none">("temperature", "none", ["none", "c", "f"]);

const LABELS: Record<TemperatureUnit, string> = { c: "°C", f: "°F" };

export function useTemperature(units: Units) {
  const [last, choose] = useChoice(typedLast);
  const unit: TemperatureUnit = last !== "none" ? last : units === "mph_yd" ? "f" : "c";
  return {
    unit,
    labels: LABELS,
    choose: (next: string) => choose(next === "f" ? "f" : "c"),
    show: (celsius: number) => `${Math.round(inUnit(celsius, unit))} ${LABELS[unit]}`,
    /** As a field takes it, to a tenth. */
    field: (celsius: number) => String(Math.round(inUnit(celsius, unit) * 10) / 10),
  };
}

function inUnit(celsius: number, unit: TemperatureUnit): number {
  return unit === "f" ? celsius * 1.8 + 32 : celsius;
}
