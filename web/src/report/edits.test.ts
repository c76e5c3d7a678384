import { expect, test } from "vitest";
import type { Schemas } from "../app/api";
import { calledBy, editsOf } from "./edits";

test("a page that is opened again calls the player as it did", () => {
  expect(calledBy(undefined, "Ayla Tarrant", true)).toBe("first_name");
  expect(calledBy(undefined, "Petra Quill", false)).toBe("name");
  expect(calledBy("A. T.", "Ayla Tarrant", true)).toBe("initials");
  expect(calledBy("Petra", "Petra Quill", false)).toBe("first_name");
  // Who has a child's whole name on an older page is called by the first one now.
  expect(calledBy("Ayla Tarrant", "Ayla Tarrant", true)).not.toBe("name");
});

test("what was reworded, added and taken off is found again", () => {
  const line = (key: string | null, said: string | null) => ({ key, said, part: "seen" });
  const lines = [line("opening", "Shorter."), line("figure:carry", null), line(null, "Own.")];
  const edits = editsOf({
    reader: "elite",
    units: "kmh_m",
    title: "T",
    lines,
  } as unknown as Schemas["Page"]);
  expect(edits.words).toEqual({ "elite opening": "Shorter." });
  expect(edits.ticks).toEqual({ opening: true, "figure:carry": true });
  expect(edits.own.map(({ said }) => said)).toEqual(["Own."]);
  expect(edits.written).toBe(true);
});
