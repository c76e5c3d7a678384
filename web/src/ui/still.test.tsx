import { act, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { useHeld } from "./held";
import { useSettled } from "./settled";

beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

it("holds the last answer while a question is refused", () => {
  const { result, rerender } = renderHook(({ answer }) => useHeld(answer), {
    initialProps: { answer: undefined as string | undefined },
  });
  expect(result.current).toBeUndefined();
  rerender({ answer: "first" });
  rerender({ answer: undefined });
  expect(result.current).toBe("first");
  rerender({ answer: "second" });
  expect(result.current).toBe("second");
});

it("follows a value once it has stood still, and at once when not asked to wait", () => {
  const { result, rerender } = renderHook(({ value, ms }) => useSettled(value, ms), {
    initialProps: { value: 1, ms: 250 },
  });
  rerender({ value: 2, ms: 250 });
  act(() => void vi.advanceTimersByTime(200));
  rerender({ value: 3, ms: 250 });
  act(() => void vi.advanceTimersByTime(200));
  expect(result.current).toBe(1);
  act(() => void vi.advanceTimersByTime(60));
  expect(result.current).toBe(3);
  rerender({ value: 4, ms: 0 });
  expect(result.current).toBe(4);
});
