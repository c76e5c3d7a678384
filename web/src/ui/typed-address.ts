// Numbers as typed, kept in the address with their unit, so that another choice of units
// shows the same thing.

import type { Dimension } from "../app/api";
import type { Words } from "../app/vocabulary";
import { typed } from "./Measured";

export function toAddress(text: string, dimension: Dimension, words: Words): string {
  return text && `${text}~${words.suffix(dimension)}`;
}

export function fromAddress(kept: string | null, dimension: Dimension, words: Words): string {
  const [text = "", unit = ""] = kept?.split("~") ?? [];
  const here = words.suffix(dimension);
  const number = typed(text);
  if (!text || unit === here || number === null) return text;
  const known = words.vocabulary.units.find((u) => u.dimension === dimension && u.suffix === unit);
  if (!known) return text;
  return String(Number(words.scaled(dimension, number * known.size).toFixed(1)));
}
