// What series and records go by.

import type { Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";

const SIDES: Record<Schemas["SwingSide"], string> = { dominant: "own side", other: "other side" };
const SERIES: Record<Schemas["Series"], string> = {
  usual: "usual swings",
  all_out: "all-out swings",
};

/** The club, or what was swung without a ball and how. */
export function nameOf(
  of: { club?: Schemas["Club"] | null; swung?: Schemas["Swung"] | null },
  words: Words,
): string {
  if (of.swung) {
    const { implement, side, position } = of.swung;
    return [implement, side && SIDES[side], position].filter(Boolean).join(", ");
  }
  return of.club ? words.club(of.club) : "";
}

/** A series that can be looked at; how it was swung only where a club was swung both ways. */
export function nameOfSeries(choice: Schemas["SeriesChoice"], both: boolean, words: Words): string {
  const name = nameOf(choice, words);
  if (choice.swung) return `${name}, without a ball`;
  return both ? `${name}, ${SERIES[choice.series]}` : name;
}

/** Which club and way of swinging a choice is of, in one word. */
export const wayOf = (choice: Schemas["SeriesChoice"]): string =>
  JSON.stringify([choice.club, choice.series, choice.swung]);

/** A record by its name: what it is the best of. */
export function recordName(of: Schemas["RecordOf"], words: Words): string {
  const name = nameOf(of, words);
  return of.swung ? name : `${name} ${words.quantity(of.quantity).label}`.toLowerCase();
}
