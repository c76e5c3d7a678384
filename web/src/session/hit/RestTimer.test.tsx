import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { RestTimer } from "./RestTimer";

const beeps = vi.fn();

beforeEach(() => {
  vi.useFakeTimers({ now: new Date("2026-04-18T10:00:00Z") });
  beeps.mockClear();
  const node = { connect: (next: unknown) => next, gain: {}, frequency: {}, stop: () => {} };
  vi.stubGlobal(
    "AudioContext",
    class {
      currentTime = 0;
      destination = node;
      createOscillator = () => ({ ...node, start: beeps });
      createGain = () => node;
      close = () => {};
    },
  );
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
  vi.unstubAllGlobals();
  localStorage.clear();
});

const pass = (seconds: number) => act(() => void vi.advanceTimersByTime(seconds * 1000));

it("counts the rest down in minutes and seconds, then says that the player is ready", () => {
  render(<RestTimer since="2026-04-18T10:00:00Z" seconds={90} />);
  expect(screen.getByRole("timer").textContent).toContain("rest 1:30");
  pass(25);
  expect(screen.getByRole("timer").textContent).toContain("rest 1:05");
  pass(66);
  expect(screen.getByRole("timer").textContent).toContain("ready");
});

it("is silent until the coach wants a sound, and sounds once", () => {
  const { unmount } = render(<RestTimer since="2026-04-18T10:00:00Z" seconds={5} />);
  pass(6);
  expect(beeps).not.toHaveBeenCalled();
  fireEvent.click(screen.getByRole("button", { name: "sound off" }));
  // What is over already does not sound after it.
  pass(6);
  expect(beeps).not.toHaveBeenCalled();
  unmount();
  render(<RestTimer since={new Date().toISOString()} seconds={5} />);
  pass(20);
  expect(beeps).toHaveBeenCalledTimes(1);
});

it("does not keep a player waiting for a shot that a fast clock puts in the future", () => {
  render(<RestTimer since="2026-04-18T10:10:00Z" seconds={20} />);
  expect(screen.getByRole("timer").textContent).toContain("ready");
});
