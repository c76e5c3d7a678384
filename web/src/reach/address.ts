// The bench's state as the address holds it, in internal units, so that a link
// reproduces what was seen whatever the units of the one who opens it.

import type { Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";

export type Conditions = Schemas["Conditions"];

/** How a shot is described: by launch, by delivery, or by a delivery with lean. */
export type By = "launch" | "delivery" | "held";

export type Lie = Schemas["Lie"];

/** What may lie between ball and face, as it is called. */
export const LIES: Record<Lie, string> = {
  dry: "dry and clean",
  wet: "wet",
  grass: "grass between",
};

export interface BenchShot {
  by: By;
  club: string;
  /** What lies between ball and face; nothing where it is not said. */
  lie?: Lie;
  values: Record<string, number>;
}

/** The fields of each description, in the order of the address and of the form. */
export const FIELDS: Record<By, readonly string[]> = {
  launch: [
    "ball_speed",
    "launch_angle_deg",
    "spin_rate_rpm",
    "launch_direction_deg",
    "spin_axis_deg",
  ],
  delivery: [
    "club_speed",
    "angle_of_attack_deg",
    "dynamic_loft_deg",
    "club_path_deg",
    "face_angle_deg",
    "impact_toe",
    "impact_high",
  ],
  held: [
    "club_speed",
    "angle_of_attack_deg",
    "static_loft_deg",
    "shaft_lean_deg",
    "club_path_deg",
    "face_angle_deg",
    "impact_toe",
    "impact_high",
  ],
};

export const CALM: Conditions = { altitude_m: 0, temperature_c: 25, humidity_pct: 50 };

const round = (value: number) => String(Number(value.toFixed(4)));

export function shotToText(shot: BenchShot): string {
  const values = FIELDS[shot.by].map((field) => round(shot.values[field] ?? 0));
  const lie = shot.by === "launch" || !shot.lie || shot.lie === "dry" ? [] : [shot.lie];
  return [shot.by, shot.club, ...values, ...lie].join("_").replace(/^([a-z]+)_/, "$1~");
}

export function shotFromText(text: string, words: Words): BenchShot | undefined {
  const [by, rest] = text.split("~") as [By, string | undefined];
  const fields = FIELDS[by];
  if (!fields || !rest) return undefined;
  const parts = rest.split("_");
  const lie = (Object.keys(LIES) as Lie[]).find((key) => key === parts.at(-1));
  if (lie) parts.pop();
  const numbers = parts.slice(-fields.length).map(Number);
  const club = parts.slice(0, -fields.length).join("_");
  if (!words.vocabulary.clubs.some((c) => c.key === club)) return undefined;
  if (numbers.length !== fields.length || numbers.some(Number.isNaN)) return undefined;
  const values = Object.fromEntries(fields.map((f, i) => [f, numbers[i] ?? 0]));
  return lie ? { by, club, lie, values } : { by, club, values };
}

/** A sound shot with a club, described as asked. */
export function soundShot(by: By, club: string, words: Words): BenchShot {
  const word = words.vocabulary.clubs.find((c) => c.key === club);
  if (!word) throw new Error(`no club ${club}`);
  const { lie: _, ...delivery } = word.delivery;
  const values: Record<string, number> =
    by === "launch"
      ? { ...word.launch }
      : { ...delivery, static_loft_deg: delivery.dynamic_loft_deg + 4, shaft_lean_deg: 4 };
  return { by, club, values };
}

export function conditionsToAddress(conditions: Conditions, into: URLSearchParams) {
  const { wind, ground } = conditions;
  into.set("alt", round(conditions.altitude_m));
  into.set("temp", round(conditions.temperature_c));
  into.set("hum", round(conditions.humidity_pct));
  if (typeof conditions.ball_temperature_c === "number")
    into.set("ball", round(conditions.ball_temperature_c));
  const { ball_flight: ball } = conditions;
  if (ball) into.set("flight", `${round(ball.drag)}_${round(ball.lift)}`);
  if (wind) into.set("wind", `${round(wind.speed_mps)}_${round(wind.from_deg)}`);
  if (ground) into.set("ground", `${ground.surface}_${round(ground.firmness)}`);
}

export function conditionsFromAddress(from: URLSearchParams): Conditions {
  const number = (name: string, fallback: number) => {
    const text = from.get(name);
    return text && !Number.isNaN(Number(text)) ? Number(text) : fallback;
  };
  const conditions: Conditions = {
    altitude_m: number("alt", CALM.altitude_m),
    temperature_c: number("temp", CALM.temperature_c),
    humidity_pct: number("hum", CALM.humidity_pct),
  };
  if (from.get("ball")) conditions.ball_temperature_c = number("ball", conditions.temperature_c);
  const [drag, lift] = (from.get("flight") ?? "").split("_").map(Number);
  if (drag && lift !== undefined && !Number.isNaN(lift)) conditions.ball_flight = { drag, lift };
  const [speed, direction] = (from.get("wind") ?? "").split("_").map(Number);
  if (speed && direction !== undefined)
    conditions.wind = { speed_mps: speed, from_deg: direction || 0 };
  const [surface, firmness] = (from.get("ground") ?? "").split("_");
  if (surface === "fairway" || surface === "green")
    conditions.ground = { surface, firmness: Number(firmness ?? 0.5) || 0 };
  return conditions;
}
