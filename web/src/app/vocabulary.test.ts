import { describe, expect, it } from "vitest";
import { testWords } from "./words.fixture";

describe("values in the coach's units", () => {
  it("shows one value in each choice of units, with the digits of a device", () => {
    const speed = 45.0;
    expect(testWords("mph_yd").show("speed", speed)).toBe("100.7 mph");
    expect(testWords("kmh_m").show("speed", speed)).toBe("162.0 km/h");
    expect(testWords("mps_m").show("speed", speed)).toBe("45.0 m/s");
  });

  it("groups thousands and writes a true minus", () => {
    const words = testWords("kmh_m");
    expect(words.bare("distance", 1234.4)).toBe("1,234");
    expect(words.bare("distance", -12.4)).toBe("−12");
    expect(words.bare("distance", -0.2)).toBe("0");
  });

  it("tells how far two values lie apart as they are shown, not as they are", () => {
    // 150.4 and 149.6 m are shown as 150 and 150.
    expect(testWords("kmh_m").apart("distance", 150.4, 149.6)).toBe("0");
    expect(testWords("kmh_m").apart("distance", 150.6, 149.4)).toBe("2");
  });

  it("words what a flight fails with the check's own words and one unit", () => {
    const failed = { check: "apex", found: 18.9, wanted: 24.4 } as const;
    expect(testWords().failed(failed)).toBe("low: apex 21 yd, at least 27");
  });

  it("takes what is typed back to where it came from", () => {
    for (const units of ["mph_yd", "kmh_m", "mps_m"] as const) {
      const words = testWords(units);
      expect(words.internal("speed", words.scaled("speed", 43.7))).toBeCloseTo(43.7, 9);
    }
    expect(testWords().field("distance", 200)).toBe("219");
  });
});
