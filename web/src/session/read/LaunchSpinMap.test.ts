import { expect, it } from "vitest";
import type { Schemas } from "../../app/api";
import { placed } from "./LaunchSpinMap";
import type { SessionRead } from "./queries";

function map(...ids: string[]) {
  const shots = ids.map((_, index) => ({ index, standing: "kept", launch_angle_deg: index }));
  return { of: ids, shots } as unknown as Schemas["SessionMap"];
}

function read(...shots: [id: string, standing: string][]) {
  return {
    shots: shots.map(([id]) => ({ id })),
    report: { shots: shots.map(([, standing]) => ({ standing })) },
  } as unknown as SessionRead;
}

const told = (on: Schemas["SessionMap"] | undefined, of: SessionRead) =>
  placed(on, of).map(({ number, launch, standing }) => [number, launch, standing]);

it("finds each shot of the map where Read has it, as Read says that it stands", () => {
  const late = read(["a", "kept"], ["late", "kept"], ["b", "set_aside"]);
  expect(told(map("a", "b"), late)).toEqual([
    [1, 0, "kept"],
    [3, 1, "set_aside"],
  ]);
});

it("leaves out a shot that Read does not have yet, or no more", () => {
  expect(told(map("a", "new"), read(["a", "kept"]))).toEqual([[1, 0, "kept"]]);
  expect(told(undefined, read(["a", "kept"]))).toEqual([]);
});
