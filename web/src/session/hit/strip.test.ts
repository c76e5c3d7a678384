import { expect, it } from "vitest";
import { testWords } from "../../app/words.fixture";
import type { HitView } from "./queries";
import { hitOf, hitStrip } from "./strip";

interface Hit {
  block: string;
  speed?: number;
  standing?: "kept" | "set_aside";
}

/** A session of `blocks` with as many balls each, of which `hit` were hit. */
function view(blocks: [string, number][], hit: Hit[], current: number, bands: unknown[] = []) {
  const here = blocks[current]?.[0];
  return {
    shots: hit.map((ball, i) => ({
      id: `s${i}`,
      block: ball.block,
      values: ball.speed === undefined ? {} : { club_speed: { si: ball.speed } },
    })),
    session: {
      blocks: blocks.map(([id, balls]) => ({ id, label: id.toUpperCase(), plan: { balls } })),
    },
    report: {
      shown: ["club_speed"],
      shots: hit.map((ball) => ({ standing: ball.standing ?? "kept" })),
      bands,
      place: {
        block: current,
        balls: blocks[current]?.[1] ?? 0,
        hit: hit.filter((ball) => ball.block === here && ball.standing !== "set_aside").length,
      },
    },
  } as unknown as HitView;
}

const coming = (of: HitView) => hitStrip(hitOf(of), testWords()).coming.map((b) => [b.id, b.balls]);

it("draws the balls left of this block and those of the blocks after it", () => {
  const hit = [{ block: "a" }, { block: "a", standing: "set_aside" as const }];
  const of = view(
    [
      ["a", 3],
      ["b", 4],
    ],
    hit,
    0,
  );
  // The ball set aside is still to be hit.
  expect(coming(of)).toEqual([
    ["a", 2],
    ["b", 4],
  ]);
});

it("draws nothing more of a block that has more balls than were planned", () => {
  const hit = Array.from({ length: 5 }, () => ({ block: "a" }));
  expect(coming(view([["a", 3]], hit, 0))).toEqual([]);
});

it("looks four blocks ahead at most, and drops whole blocks where room ends", () => {
  const six = "abcdef".split("").map((id): [string, number] => [id, 5]);
  expect(coming(view(six, [], 0)).map(([id]) => id)).toEqual(["a", "b", "c", "d", "e"]);
  const long: [string, number][] = [
    ["a", 40],
    ["b", 30],
    ["c", 5],
  ];
  expect(coming(view(long, [], 0)).map(([id]) => id)).toEqual(["a"]);
});

it("draws this block's balls however many were hit before", () => {
  const hit = Array.from({ length: 80 }, () => ({ block: "a" }));
  const of = view(
    [
      ["a", 80],
      ["b", 6],
    ],
    hit,
    1,
  );
  expect(coming(of)).toEqual([["b", 6]]);
});

it("lays last time's bands on the same scale as the strokes, open ends to the edge", () => {
  const hit = [
    { block: "a", speed: 40 },
    { block: "a", speed: 44 },
  ];
  const bands = [
    { block: 0, low: 42, high: 48 },
    { block: 1, low: null, high: 44 },
    { block: 1, low: 44, high: null },
  ];
  const of = view(
    [
      ["a", 3],
      ["b", 3],
    ],
    hit,
    0,
    bands,
  );
  const told = hitStrip(hitOf(of), testWords());
  expect(told.shots.map((shot) => shot.height)).toEqual([0, 0.5]);
  expect(told.bands).toEqual([
    { block: "a", low: 0.25, high: 1 },
    { block: "b", low: 0, high: 0.5 },
    { block: "b", low: 0.5, high: 1 },
  ]);
});

it("draws a ball without the number as one without a height", () => {
  const told = hitStrip(hitOf(view([["a", 2]], [{ block: "a" }], 0)), testWords());
  expect(told.shots[0]).toMatchObject({
    height: undefined,
    label: "Shot 1, kept, club speed none",
  });
});
