import { expect, it } from "vitest";
import { testWords } from "../app/words.fixture";
import { fromAddress, toAddress } from "./typed-address";

it("shows what was typed in the units in which it is read", () => {
  const kept = toAddress("12.5", "distance", testWords("mph_yd"));
  expect(kept).toBe("12.5~yd");
  expect(fromAddress(kept, "distance", testWords("mph_yd"))).toBe("12.5");
  expect(fromAddress(kept, "distance", testWords("kmh_m"))).toBe("11.4");
});

it("leaves alone what is no number or of no unit, so that it can be put right", () => {
  const words = testWords("mph_yd");
  expect(fromAddress("twelve~m", "distance", words)).toBe("twelve");
  expect(fromAddress("12~ells", "distance", words)).toBe("12");
  expect(fromAddress(null, "distance", words)).toBe("");
  expect(toAddress("", "distance", words)).toBe("");
});
