import { afterEach, expect, it } from "vitest";
import { keptChoice } from "./choice";

afterEach(() => localStorage.clear());

it("remembers a choice for the next visit and tells who listens", () => {
  const choice = keptChoice("light", "on", ["on", "off"]);
  const heard: string[] = [];
  const stop = choice.subscribe((state) => heard.push(state.value));
  choice.setState({ value: "off" });
  stop();
  choice.setState({ value: "on" });
  choice.setState({ value: "off" });
  expect(heard).toEqual(["off"]);
  expect(keptChoice("light", "on", ["on", "off"]).getState().value).toBe("off");
});

it("takes its own way when what was stored is none of the choices", () => {
  localStorage.setItem("amber-tally.light", "purple");
  expect(keptChoice("light", "on", ["on", "off"]).getState().value).toBe("on");
});
