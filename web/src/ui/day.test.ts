import { expect, it } from "vitest";
import { clock, dated, day, dayFormat } from "./day";

const MOMENT = "2026-04-18T22:30:15Z";

it("tells a moment by the day and the clock of the place where it was", () => {
  expect(day(MOMENT, "UTC")).toBe("18 April 2026");
  expect(day(MOMENT, "Asia/Tokyo")).toBe("19 April 2026");
  expect(clock(MOMENT, "Asia/Tokyo")).toBe("07:30:15");
});

it("tells a day of a sentence, with its year where the sentence says so", () => {
  expect(dated("2026-02-10", false)).toBe("10 February");
  expect(dated("2025-12-31", true)).toBe("31 December 2025");
});

it("tells a zone that nobody knows as UTC instead of breaking the page", () => {
  expect(day(MOMENT, "Mars/Phobos")).toBe("18 April 2026 UTC");
  expect(clock(MOMENT, "")).toBe("22:30:15 UTC");
});

it("tells how a day is written in numbers where the browser is", () => {
  expect(dayFormat("en-GB")).toBe("DD/MM/YYYY");
  expect(dayFormat("en-US")).toBe("MM/DD/YYYY");
  expect(dayFormat("de-DE")).toBe("DD.MM.YYYY");
  expect(dayFormat("sv-SE")).toBe("YYYY-MM-DD");
  expect(dayFormat("ja-JP")).toBe("YYYY/MM/DD");
});
