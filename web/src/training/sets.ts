import type { Schemas } from "../app/api";

type ProtocolSet = Schemas["ProtocolSet"];

export const SIDES = [
  ["dominant", "own side"],
  ["other", "other side"],
] as const;

export const POSITIONS = [
  ["normal", "normal"],
  ["stepping", "stepping"],
  ["kneeling", "kneeling"],
  ["feet_together", "feet together"],
] as const;

/** What a set is of: "light, other side, stepping". */
export function setOf({ of }: ProtocolSet): string {
  if (of.kind === "balls") return "balls";
  const side = SIDES.find(([key]) => key === of.side)?.[1];
  const position = POSITIONS.find(([key]) => key === of.position)?.[1];
  return [of.implement, side, of.position === "normal" ? "" : position].filter(Boolean).join(", ");
}

/** How it is swung: "all-out, rest 60 s". */
export function setWords({ effort_pct, rest_s }: ProtocolSet): string {
  const effort = effort_pct >= 95 ? "all-out" : `${effort_pct} %`;
  return rest_s > 0 ? `${effort}, rest ${rest_s} s` : effort;
}
