// Where a session is and what it aims at, in words: the same at the station and on a board.

import type { Schemas } from "../../app/api";
import type { Words } from "../../app/vocabulary";

/** How a value stands to what was aimed for: as a shape and in words. */
export const MET: Record<Schemas["Met"], [string, string]> = {
  met: ["◆", "on target"],
  under: ["▼", "under"],
  over: ["▲", "over"],
};

export function ballWords({ balls, hit }: Schemas["PlanPlace"]): string {
  if (balls === 0) return `Ball ${hit + 1}`;
  if (hit >= balls) return `All ${balls} balls hit`;
  return `Next ball, ${hit + 1} of ${balls}`;
}

export function aimWords(target: Schemas["Target"], words: Words): string {
  const { dimension, label } = words.quantity(target.quantity);
  const name = label.toLowerCase();
  const { low, high } = target;
  if (low != null && high != null)
    return `aim: ${name} ${words.bare(dimension, low)}–${words.show(dimension, high)}`;
  if (low != null) return `aim: ${name} of ${words.show(dimension, low)} or more`;
  return `aim: ${name} of ${words.show(dimension, high ?? 0)} or less`;
}
