import { renderHook } from "@testing-library/react";
import { expect, it } from "vitest";
import { type Meant, REACTION_MS, useMeant } from "./meant";

const shot = (number: number): Meant => ({ id: `s${number}`, number });

function screen(first: Meant | undefined) {
  let time = 10_000;
  const hook = renderHook(({ shown }) => useMeant(shown, () => time), {
    initialProps: { shown: first },
  });
  return {
    comes: (next: Meant) => hook.rerender({ shown: next }),
    later: (ms: number) => {
      time += ms;
    },
    meant: () => hook.result.current.meant()?.number,
    chosen: () => hook.result.current.chosen(),
  };
}

it("takes a key that comes with a new shot for the shot before it", () => {
  const hit = screen(shot(7));
  expect(hit.meant()).toBe(7);
  hit.comes(shot(8));
  hit.later(REACTION_MS - 1);
  expect(hit.meant()).toBe(7);
  hit.later(1);
  expect(hit.meant()).toBe(8);
});

it("takes a key on the first shot for the first shot", () => {
  const hit = screen(undefined);
  hit.comes(shot(1));
  expect(hit.meant()).toBe(1);
});

it("follows at once when the coach chose the shot", () => {
  const hit = screen(shot(7));
  hit.comes(shot(3));
  hit.chosen();
  expect(hit.meant()).toBe(3);
});
