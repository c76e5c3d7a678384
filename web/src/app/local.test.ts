import { expect, it } from "vitest";
import { localeOf } from "./local";

it("writes as the browser's people do, in digits that fields take", () => {
  const shown = (language: string) =>
    (1234.5).toLocaleString(localeOf(language), { minimumFractionDigits: 1 });
  expect(shown("de-DE")).toBe("1.234,5");
  expect(shown("en-US")).toBe("1,234.5");
  expect(shown("ar-EG")).toMatch(/^1.234.5$/);
  expect(shown("no such language")).toBe("1,234.5");
});
