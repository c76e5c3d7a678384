import { describe, expect, it } from "vitest";
import type { Schemas } from "../app/api";
import { dayNumber, roundLines, scaleOf } from "./strip-scale";

const SIZE = { width: 1000, height: 240, left: 50, right: 20, top: 20 };

function progress(dates: string[], forecast?: Schemas["Forecast"]): Schemas["ProgressRead"] {
  const days = dates.map((date, i) => ({
    sessions: [i],
    date,
    values: [44 + i, 45 + i],
    mean: 44.5 + i,
    off: false,
    other_device: false,
    other_roof: false,
    other_head: false,
  }));
  return {
    quantity: "club_speed",
    sentence: [],
    detail: [],
    days,
    equal_tries: 2,
    changes: [],
    margin: 0.4,
    plateaus: [],
    lay_offs: [],
    forecast,
  };
}

describe("the scale of a progress strip", () => {
  it("keeps every day and value inside, the later further right, the more further up", () => {
    const told = progress(["2026-01-01", "2026-01-08", "2026-03-01"]);
    const { x, y } = scaleOf(told, SIZE, 0.44704);
    const xs = told.days.map((day) => x(dayNumber(day.date)));
    expect(xs[0]).toBeGreaterThan(50);
    expect(xs[2]).toBeLessThan(980);
    const [first = 0, second = 0, third = 0] = xs;
    expect(second - first).toBeCloseTo((third - first) * (7 / 59), 6);
    expect(y(47)).toBeLessThan(y(44));
    expect(y(47)).toBeGreaterThanOrEqual(20);
    expect(y(44)).toBeLessThanOrEqual(240);
  });

  it("leaves room for a goal that is ahead, and stands with a single day", () => {
    const goal = { goal: 50, reached: false, chance: 0.4, within_two_years: 0.8 };
    const { x, y, until } = scaleOf(progress(["2026-01-01"], goal), SIZE, 0.44704);
    expect(until).toBeGreaterThan(dayNumber("2026-01-01"));
    expect(x(until)).toBeCloseTo(980);
    expect(y(50)).toBeGreaterThan(20);
  });

  it("draws lines at round numbers", () => {
    expect(roundLines(97.3, 112.9)).toEqual([100, 105, 110]);
    expect(roundLines(1.44, 1.5).length).toBeGreaterThan(1);
  });
});
