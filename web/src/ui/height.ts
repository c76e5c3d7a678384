// How tall somebody is, as it is said: feet and inches, or centimetres.

import type { Units } from "../app/api";

export function tall(metres: number, units: Units): string {
  if (units !== "mph_yd") return `${Math.round(metres * 100)} cm`;
  const inches = Math.round(metres / 0.0254);
  return `${Math.floor(inches / 12)} ft ${inches % 12} in`;
}
