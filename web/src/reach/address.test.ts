import { describe, expect, it } from "vitest";
import type { Schemas } from "../app/api";
import { testWords } from "../app/words.fixture";
import {
  type BenchShot,
  CALM,
  type Conditions,
  conditionsFromAddress,
  conditionsToAddress,
  FIELDS,
  shotFromText,
  shotToText,
} from "./address";

const clubs = ["driver", "wedge_pitching"].map((key) => ({ key })) as Schemas["ClubWord"][];
const words = testWords("mph_yd", clubs);

describe("a shot in the address", () => {
  it.each(["launch", "delivery", "held"] as const)("comes back as it went, by %s", (by) => {
    const values = Object.fromEntries(FIELDS[by].map((field, i) => [field, 10.5 - 4.25 * i]));
    for (const club of ["driver", "wedge_pitching"]) {
      const shot: BenchShot = { by, club, values };
      expect(shotFromText(shotToText(shot), words)).toEqual(shot);
    }
  });

  it("keeps what lies between ball and face", () => {
    const values = Object.fromEntries(FIELDS.delivery.map((field) => [field, 1]));
    const wet: BenchShot = { by: "delivery", club: "wedge_pitching", lie: "wet", values };
    expect(shotFromText(shotToText(wet), words)).toEqual(wet);
  });

  it.each([
    "",
    "launch",
    "launch~spoon_1_2_3_4_5",
    "launch~driver_1_2_3_4",
    "launch~driver_1_2_x_4_5",
    "flight~driver_1_2_3_4_5",
  ])("is none when the address is broken: %s", (text) => {
    expect(shotFromText(text, words)).toBeUndefined();
  });
});

describe("conditions in the address", () => {
  const there = (conditions: Conditions) => {
    const address = new URLSearchParams();
    conditionsToAddress(conditions, address);
    return conditionsFromAddress(new URLSearchParams(address.toString()));
  };

  it("come back as they went", () => {
    const windy: Conditions = {
      altitude_m: 1140,
      temperature_c: -3.5,
      ball_temperature_c: 12,
      ball_flight: { drag: 1.3, lift: 0.9 },
      humidity_pct: 80,
      wind: { speed_mps: 5.5, from_deg: 270 },
      ground: { surface: "green", firmness: 0.25 },
    };
    expect(there(windy)).toEqual(windy);
    expect(there(CALM)).toEqual(CALM);
  });

  it("are calm where the address says nothing or nonsense", () => {
    expect(conditionsFromAddress(new URLSearchParams("alt=high&wind=&ground=lava"))).toEqual(CALM);
  });
});
