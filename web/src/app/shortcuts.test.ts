import { renderHook } from "@testing-library/react";
import { expect, it } from "vitest";
import { asked, SHORTCUTS, useShortcuts } from "./shortcuts";

const find = (id: string) => {
  const found = SHORTCUTS.find((one) => one.id === id);
  if (!found) throw new Error(id);
  return found;
};

it("gives a key to one thing at a time, keeps the change, and can be switched off", () => {
  const keys = () => renderHook(useShortcuts).result.current;
  expect(asked("hit", "X")).toBe("set_aside");
  expect(keys().change(find("set_aside"), "k")?.id).toBe("keep");
  expect(keys().change(find("set_aside"), "/")?.id).toBe("find");
  // The same key may mean another thing on another page.
  expect(keys().change(find("set_aside"), "r")).toBeUndefined();
  expect(asked("hit", "r")).toBe("set_aside");
  expect(asked("hit", "x")).toBeUndefined();
  expect(asked("run", "r")).toBe("run_repeat");
  expect(JSON.parse(localStorage.getItem("amber-tally.keys") ?? "")).toMatchObject({
    own: { set_aside: "r" },
  });
  keys().switchOff(true);
  expect(asked("hit", "r")).toBeUndefined();
  keys().switchOff(false);
  keys().reset();
  expect(asked("hit", "x")).toBe("set_aside");
});
