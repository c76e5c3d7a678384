import { describe, expect, it } from "vitest";
import { CALM } from "../reach/address";
import { airFromText, airToText, inAir } from "./air";

describe("the air of a card", () => {
  const windy = { ...CALM, altitude_m: 1140, wind: { speed_mps: 4.5, from_deg: 45 } };

  it("stands in the address and comes back from it", () => {
    expect(airToText(windy)).toBe("1140_25_4.5_45");
    expect(airFromText("1140_25_4.5_45")).toEqual(windy);
    expect(airFromText(airToText(CALM))).toEqual(CALM);
  });

  it("is left out where the address holds something else", () => {
    for (const odd of ["", "high", "1140", "0_25_1_0_7", "0_x"])
      expect(airFromText(odd)).toBeUndefined();
  });

  it("asks the server only for what differs from reference air", () => {
    expect(inAir(CALM)).toEqual({});
    expect(inAir(windy)).toEqual({ altitude_m: 1140, wind_mps: 4.5, wind_from_deg: 45 });
  });
});
