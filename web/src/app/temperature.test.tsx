import { act, renderHook } from "@testing-library/react";
import { expect, it } from "vitest";
import { useTemperature } from "./temperature";

it("goes with the other units until one is typed, and keeps to that one then", () => {
  const { result, rerender } = renderHook(({ units }) => useTemperature(units), {
    initialProps: { units: "mph_yd" as "mph_yd" | "kmh_m" },
  });
  expect(result.current.show(15)).toBe("59 °F");
  rerender({ units: "kmh_m" });
  expect(result.current.show(15)).toBe("15 °C");
  act(() => result.current.choose("f"));
  expect(result.current.show(-3.5)).toBe("26 °F");
  expect(result.current.field(21.1)).toBe("70");
});
