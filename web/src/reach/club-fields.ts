// What is set of a swing and two clubs, as the address holds it; what is not set is the
// player's own, or usual of the club.

import type { Schemas } from "../app/api";
import type { Conditions } from "./address";

const FIELDS = [
  "speed",
  "attack",
  "loft",
  "toe",
  "high",
  "now_length",
  "now_loft",
  "now_head",
  "other_length",
  "other_loft",
  "other_head",
  "other_forgiveness",
  "softer",
  "tee",
] as const;

export type ClubFields = Partial<Record<(typeof FIELDS)[number], number>>;

export function fieldsFromAddress(from: URLSearchParams): ClubFields {
  const fields: ClubFields = {};
  for (const field of FIELDS) {
    const text = from.get(field);
    if (text && Number.isFinite(Number(text))) fields[field] = Number(text);
  }
  return fields;
}

export function fieldsToAddress(fields: ClubFields, into: URLSearchParams) {
  for (const field of FIELDS) {
    const value = fields[field];
    if (value !== undefined) into.set(field, String(Number(value.toFixed(5))));
  }
}

export function clubQuestion(
  word: Schemas["ClubWord"],
  usualScatter: number[],
  own: Schemas["DeliveryView"] | undefined,
  set: ClubFields,
  conditions: Conditions,
): Schemas["OtherClubAsked"] {
  const swing = own?.own?.delivery ?? word.delivery;
  const build = own?.build ?? word.build;
  const [toe, high] = own?.own?.scatter ?? usualScatter;
  const now = {
    ...build,
    club_length_m: set.now_length ?? build.club_length_m,
    static_loft_deg: set.now_loft ?? build.static_loft_deg,
    head_mass_g: set.now_head ?? build.head_mass_g,
  };
  return {
    club: word.key,
    conditions,
    delivery: {
      ...swing,
      club_speed: set.speed ?? swing.club_speed,
      angle_of_attack_deg: set.attack ?? swing.angle_of_attack_deg,
      dynamic_loft_deg: set.loft ?? swing.dynamic_loft_deg,
    },
    scatter_toe: set.toe ?? toe ?? 0,
    scatter_high: set.high ?? high ?? 0,
    now,
    other: {
      club_length_m: set.other_length ?? now.club_length_m,
      static_loft_deg: set.other_loft ?? now.static_loft_deg,
      head_mass_g: set.other_head ?? now.head_mass_g,
      forgiveness_pct: set.other_forgiveness ?? now.forgiveness_pct,
    },
    softer_steps: set.softer ?? 0,
    tee_higher: set.tee ?? 0,
  };
}
