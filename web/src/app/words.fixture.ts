// Words of the trade for tests: as much of the server's vocabulary as they need.

import type { Schemas } from "./api";
import { wordsOf } from "./vocabulary";

type Vocabulary = Schemas["Vocabulary"];

const MPH = 0.44704;
const YARD = 0.9144;

const vocabulary: Vocabulary = {
  quantities: [
    { key: "club_speed", label: "Club speed", dimension: "speed", has_best: true },
    { key: "carry", label: "Carry", dimension: "distance", has_best: true },
    { key: "side", label: "Side", dimension: "distance", has_best: false },
  ],
  units: [
    ...shown("mph_yd", "mph", MPH, "yd", YARD),
    ...shown("kmh_m", "km/h", 1 / 3.6, "m", 1),
    ...shown("mps_m", "m/s", 1, "m", 1),
  ],
  accepted: [],
  clubs: [],
  checks: [{ key: "apex", label: "low", of: "apex", dimension: "distance", limit: "at least" }],
  glossary: [],
  most_numbers: 6,
  purposes: [],
  inputs: [],
  usual_scatter: [0.01, 0.007],
  reduced_flight: { drag: 1.35, lift: 0.85 },
};

function shown(
  units: Schemas["Units"],
  speed: string,
  speedSize: number,
  distance: string,
  distanceSize: number,
): Vocabulary["units"] {
  const suffix = speed.replace("/", "").replace("ms", "mps");
  return [
    { units, dimension: "speed", symbol: speed, suffix, size: speedSize, decimals: 1, step: 0.1 },
    {
      units,
      dimension: "distance",
      symbol: distance,
      suffix: distance,
      size: distanceSize,
      decimals: 0,
      step: 1,
    },
  ];
}

export function testWords(units: Schemas["Units"] = "mph_yd", clubs: Vocabulary["clubs"] = []) {
  return wordsOf({ ...vocabulary, clubs }, units);
}
