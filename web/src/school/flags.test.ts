import { expect, test } from "vitest";
import type { Schemas } from "../app/api";
import { sorted } from "./Flags";

const flag = (name: string, kind: Schemas["FlagKind"], seen: string): Schemas["TodayFlag"] => ({
  player: name,
  name,
  flag: { kind, said: [], since: seen, seen },
});

test("pain comes before a level, and the coach may ask for the latest or for names", () => {
  const flags = [
    flag("Ada", "level", "2026-04-10"),
    flag("Cyr", "off_day", "2026-04-12"),
    flag("Bo", "held", "2026-04-01"),
  ];
  const names = (by: "urgency" | "day" | "name") => sorted(flags, by).map(({ name }) => name);
  expect(names("urgency")).toEqual(["Bo", "Cyr", "Ada"]);
  expect(names("day")).toEqual(["Cyr", "Ada", "Bo"]);
  expect(names("name")).toEqual(["Ada", "Bo", "Cyr"]);
});
