import type { Schemas } from "../app/api";

export const STANDINGS: Record<Schemas["Standing"], string> = {
  kept: "kept",
  set_aside: "set aside",
  doubtful: "doubtful",
};

export const PROVENANCE: Record<Schemas["Provenance"], string> = {
  measured: "measured",
  calculated: "calculated by the device",
  entered: "entered by hand",
};

export const REASONS: { key: Schemas["Reason"]; letter: string; label: string }[] = [
  { key: "mishit", letter: "M", label: "Mishit" },
  { key: "missed_feel", letter: "F", label: "Missed its feel" },
  { key: "interrupted", letter: "I", label: "Interrupted" },
  { key: "device", letter: "D", label: "Device misread" },
  { key: "trial", letter: "T", label: "Trial swing" },
  { key: "other", letter: "O", label: "Other, in words" },
];

/** Reasons in the record, with those that the program gives itself. */
export function reasonWords(key: string): string {
  if (key === "paused") return "hit during a pause";
  return REASONS.find((r) => r.key === key)?.label.toLowerCase() ?? key;
}

/** What stands between a shot and the furthest that its club speed can carry, in order. */
export const LEVERS: Record<Schemas["Lever"], string> = {
  ball_speed: "ball speed",
  launch: "launch",
  spin: "spin",
  curve: "curve",
  conditions: "air and wind",
};
