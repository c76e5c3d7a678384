import { expect, test } from "vitest";
import { isLater, noted, position, seenFrom } from "./position";

type Asked = Parameters<NonNullable<typeof position.onRequest>>[0];

function asked(): string | null {
  const request = new Request("http://here/api/v1/players");
  position.onRequest?.({ request } as Asked);
  return request.headers.get("tally-position");
}

test("one place in the log is behind another by its numbers, not by its letters", () => {
  expect(isLater("1/0", "0/FFFFFFFF")).toBe(true);
  expect(isLater("0/16B3748", "0/900000")).toBe(true);
  expect(isLater("0/9", "0/9")).toBe(false);
  expect(isLater("0/9", "0/0")).toBe(true);
});

test("what was done or heard of last is told with every question, and nothing before that", () => {
  expect(asked()).toBe("0/0");
  noted(new Response(null, { headers: { "tally-position": "0/16B3748" } }));
  seenFrom("0/9000");
  seenFrom("");
  expect(asked()).toBe("0/16B3748");
});
