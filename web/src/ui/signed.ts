import type { Dimension } from "../app/api";
import type { Words } from "../app/vocabulary";

/** A value without its unit, a gain with its sign. */
export function signed(value: number, dimension: Dimension, words: Words): string {
  const bare = words.bare(dimension, value);
  return value > 0 && Number(bare.replace(/[^\d.]/g, "")) > 0 ? `+${bare}` : bare;
}
