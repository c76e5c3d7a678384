import { describe, expect, it } from "vitest";
import { testWords } from "../app/words.fixture";
import { type Stroked, strokes } from "./strip";

function shot(number: number, value: number | undefined, standing: Stroked["standing"] = "kept") {
  return { id: `s${number}`, block: "a", number, standing, value };
}

describe("strokes by a value", () => {
  it("reach from the least to the most", () => {
    const told = strokes([shot(1, 40), shot(2, 45), shot(3, 50)], "club_speed", testWords());
    expect(told.shots.map((s) => s.height)).toEqual([0, 0.5, 1]);
  });

  it("leave room for what else must lie on the scale", () => {
    const told = strokes([shot(1, 40), shot(2, 45)], "club_speed", testWords(), [50]);
    expect(told.shots.map((s) => s.height)).toEqual([0, 0.5]);
    expect(told.height(50)).toBe(1);
  });

  it("say what a screen reader reads: number, standing, value in the coach's units", () => {
    const told = strokes([shot(7, 100, "set_aside")], "carry", testWords("mph_yd"));
    expect(told.shots[0]?.label).toBe("Shot 7, set aside, carry 109 yd");
    const none = strokes([shot(1, undefined)], "carry", testWords());
    expect(none.shots[0]).toMatchObject({ height: undefined, label: "Shot 1, kept, carry none" });
  });

  it("name the best of those that stand, where more is better", () => {
    const shots = [shot(1, 44), shot(2, 47, "set_aside"), shot(3, 46), shot(4, 46)];
    expect(strokes(shots, "club_speed", testWords()).best).toBe(2);
    expect(strokes(shots, "side", testWords()).best).toBeUndefined();
    expect(strokes([shot(1, undefined)], "carry", testWords()).best).toBeUndefined();
  });

  it("are all of one height when they are all alike", () => {
    const told = strokes([shot(1, 40), shot(2, 40)], "club_speed", testWords());
    expect(told.shots.map((s) => s.height)).toEqual([0, 0]);
  });
});
