// The air that a bag is told in, as the address and the API take it.

import type { Schemas } from "../app/api";
import { CALM, type Conditions } from "../reach/address";

export interface InAir {
  altitude_m?: number;
  temperature_c?: number;
  wind_mps?: number;
  wind_from_deg?: number;
}

/** What the API asks for; what is as in reference air is left out. */
export function inAir(air: Conditions): InAir {
  return {
    ...(air.altitude_m !== CALM.altitude_m && { altitude_m: air.altitude_m }),
    ...(air.temperature_c !== CALM.temperature_c && { temperature_c: air.temperature_c }),
    ...(air.wind && { wind_mps: air.wind.speed_mps, wind_from_deg: air.wind.from_deg }),
  };
}

/** An air as one word of an address: altitude, temperature, wind and where it comes from. */
export function airToText({ altitude_m, temperature_c, wind }: Conditions): string {
  const part = (value: number) => String(Number(value.toFixed(1)));
  const blows = wind ? [part(wind.speed_mps), part(wind.from_deg)] : [];
  return [part(altitude_m), part(temperature_c), ...blows].join("_");
}

/** Reads it back; what is no air is left out. */
export function airFromText(text: string): Conditions | undefined {
  const [altitude_m, temperature_c, speed_mps, from_deg, ...more] = text.split("_").map(Number);
  if (altitude_m === undefined || temperature_c === undefined || more.length > 0) return undefined;
  if (![altitude_m, temperature_c, speed_mps ?? 0, from_deg ?? 0].every(Number.isFinite))
    return undefined;
  const wind = speed_mps ? { speed_mps, from_deg: from_deg ?? 0 } : undefined;
  return { ...CALM, altitude_m, temperature_c, ...(wind && { wind }) };
}

export type Bag = Schemas["BagRead"];
export type BagClub = Schemas["ClubOfBag"];
export type BagGap = Schemas["GapOfBag"];
