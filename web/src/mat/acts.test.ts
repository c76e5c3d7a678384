import { beforeEach, expect, it, vi } from "vitest";
import { atTheMat } from "./acts";
import type { Waiting } from "./kept";

const put: Waiting[] = vi.hoisted(() => []);
vi.mock("./outbox", () => ({ enqueue: (entry: Waiting) => put.push(entry) }));

beforeEach(() => void put.splice(0));

const at = atTheMat("s1");
const seventh = { id: "shot-7", number: 7 };
const aside = { kind: "set_aside", reason: "mishit" } as const;

/** Everything that can be done, with what the coach reads while it waits. */
const EVERYTHING: [string, () => void][] = [
  ["shot 7 set aside", () => at.mark(seventh, aside, "set aside")],
  ["warm-up skipped", () => at.act({ kind: "skip_warm_up" }, "warm-up skipped")],
  ["carry typed", () => at.enter("shot-7", [{ quantity: "carry", given: null }], "carry typed")],
  ["block “Sixty” begun", () => at.beginBlock("b2", "Sixty")],
  ["block “Sixty” taken back", () => at.takeBackBlock("b2", "Sixty")],
  ["shot 7 given to “Sixty”", () => at.giveTo(seventh, { id: "b2", label: "Sixty" })],
  ["block “Free” begun", () => at.addBlock("Free")],
];

it.each(EVERYTHING)("says “%s” while it waits, in the session it is of", (what, act) => {
  act();
  expect(put).toHaveLength(1);
  expect(put[0]?.what).toBe(what);
  expect(put[0]?.path).toMatch(/^\/api\/v1\/sessions\/s1\//);
});

it("gives every act an identifier of its own, also the same one done twice", () => {
  for (const [, act] of [...EVERYTHING, ...EVERYTHING]) act();
  expect(new Set(put.map((entry) => entry.id)).size).toBe(2 * EVERYTHING.length);
});

it("tells the server the identifier of what is made, so that a second sending is the same", () => {
  at.mark(seventh, aside, "set aside");
  at.act({ kind: "skip_warm_up" }, "warm-up skipped");
  at.giveTo(seventh, { id: "b2", label: "Sixty" });
  at.addBlock("Free");
  for (const { id, body } of put) expect(body).toMatchObject({ id });
});

it("marks under the identifier that it is given, which undoing names", () => {
  at.mark(seventh, aside, "set aside", "m1");
  expect(put[0]).toMatchObject({ id: "m1", body: { id: "m1", act: aside } });
});

it("keeps the moment and an identifier for each value that was typed", () => {
  vi.useFakeTimers({ now: new Date("2026-04-18T10:00:00Z") });
  const yards = { value: 201, unit: "yd" } as const;
  at.enter(
    "shot-7",
    [
      { quantity: "carry", given: yards },
      { quantity: "club_speed", given: null },
    ],
    "typed",
  );
  vi.useRealTimers();
  const body = put[0]?.body as { hit_at: string; values: { id: string; quantity: string }[] };
  expect(body.hit_at).toBe("2026-04-18T10:00:00.000Z");
  expect(body.values).toMatchObject([
    { quantity: "carry", given: yards },
    { quantity: "club_speed", given: null },
  ]);
  expect(new Set(body.values.map((value) => value.id)).size).toBe(2);
});
