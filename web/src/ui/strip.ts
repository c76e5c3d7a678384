// The strokes of a tally strip: the same rule for every station.

import type { Quantity, Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import type { StripShot } from "./TallyStrip";
import { STANDINGS } from "./words";

/** A shot as a stroke is made of it. */
export interface Stroked {
  id: string;
  block: string;
  number: number;
  standing: Schemas["Standing"];
  /** The value that its height follows, internal units. */
  value: number | undefined;
}

export interface Strokes {
  shots: StripShot[];
  /** The best kept shot, by a quantity of which more is better. */
  best: number | undefined;
  /** Height of a value on the same scale, 0…1. */
  height: (value: number) => number;
}

/** Strokes whose height follows `quantity` between the least and the most of the shots
 * and of `edges`, which are to lie on the scale as well. */
export function strokes(
  shots: Stroked[],
  quantity: Quantity | undefined,
  words: Words,
  edges: number[] = [],
): Strokes {
  const there = [...shots.flatMap((shot) => shot.value ?? []), ...edges];
  const least = Math.min(...there);
  const range = Math.max(...there) - least || 1;
  const height = (value: number) => (value - least) / range;
  const word = quantity && words.quantity(quantity);
  const drawn = shots.map(({ id, block, number, standing, value }): StripShot => {
    const shown = value === undefined || !word ? "none" : words.show(word.dimension, value);
    return {
      id,
      block,
      standing,
      height: value === undefined ? undefined : height(value),
      label: `Shot ${number}, ${STANDINGS[standing]}, ${word?.label.toLowerCase() ?? "no value"} ${shown}`,
    };
  });
  return { shots: drawn, best: word?.has_best ? bestKept(shots) : undefined, height };
}

/** The first of the kept shots with the greatest value. */
function bestKept(shots: Stroked[]): number | undefined {
  let best: number | undefined;
  for (const [i, { standing, value }] of shots.entries()) {
    if (standing !== "kept" || value === undefined) continue;
    const soFar = best === undefined ? undefined : shots[best]?.value;
    if (soFar === undefined || value > soFar) best = i;
  }
  return best;
}
