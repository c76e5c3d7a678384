import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { NextBlock } from "./NextBlock";
import type { HitView } from "./queries";

const begin = vi.fn();
beforeEach(() => begin.mockClear());
afterEach(() => {
  // The choice outlives a screen: back to how it was.
  const on = screen.queryByRole("button", { name: /begins by itself/ });
  if (on) fireEvent.click(on);
  cleanup();
});

interface Told {
  hit?: number;
  begun?: string[];
  held?: string;
  paused?: boolean;
}

/** Fifty, then a block of full effort; two balls each. */
function view({ hit = 0, begun = ["fifty"], held, paused = false }: Told) {
  const block = (id: string, full_effort: boolean) => ({
    id,
    label: id,
    begun: begun.includes(id),
    plan: { balls: 2, full_effort },
  });
  const blocks = [block("fifty", false), block("full", true)];
  const next = blocks.findIndex((one) => !one.begun);
  return {
    session: { blocks, progress: { held: held ?? null, paused } },
    report: { place: { hit, balls: 2, next: next < 0 ? null : next } },
  } as unknown as HitView;
}

const shown = (told: Told) => <NextBlock view={view(told)} begin={begin} add={() => {}} />;
const byItself = () => fireEvent.click(screen.getByRole("button", { name: /waits for me/ }));

it("waits for the coach until they want it to go on by itself, then begins once", () => {
  const { rerender } = render(shown({ hit: 2 }));
  expect(begin).not.toHaveBeenCalled();
  byItself();
  rerender(shown({ hit: 2 }));
  rerender(shown({ hit: 3 }));
  expect(begin.mock.calls.map(([block]) => block.id)).toEqual(["full"]);
});

it("does not begin again what was taken back, on this screen or on another", () => {
  const { rerender } = render(shown({ hit: 1 }));
  byItself();
  // Another screen begins it and takes it back.
  rerender(shown({ begun: ["fifty", "full"] }));
  rerender(shown({ hit: 2 }));
  expect(begin).not.toHaveBeenCalled();
});

it("begins nothing during a pause, and no full effort that is held", () => {
  const { rerender } = render(shown({ hit: 1 }));
  byItself();
  rerender(shown({ hit: 2, paused: true }));
  rerender(shown({ hit: 2, held: "a sore back" }));
  expect(begin).not.toHaveBeenCalled();
  expect(screen.getByRole("button", { name: "full: held" })).toHaveProperty("disabled", true);
});
