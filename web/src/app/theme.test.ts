import { expect, test } from "vitest";
import look from "./look.css?raw";

/** Relative luminance of a colour like #rrggbb, as the accessibility guidelines define it. */
function luminance(colour: string): number {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const part = Number.parseInt(colour.slice(at, at + 2), 16) / 255;
    return part <= 0.03928 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

function contrast(a: string, b: string): number {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number];
  return (light + 0.05) / (dark + 0.05);
}

/** The colours that look.css names, in the light theme and in the dark. */
function colours(): Map<string, string>[] {
  const blocks = [...look.matchAll(/^:root[^{]*\{([^}]*)\}/gm)].map((block) => block[1] ?? "");
  return blocks.map(
    (block) =>
      new Map(
        [...block.matchAll(/--([\w-]+): (#\w{6});/g)].map((m) => [m[1], m[2]] as [string, string]),
      ),
  );
}

test("what has the focus stands out from all that it can stand on, in both themes", () => {
  expect(look).toContain("--focus: var(--amber-text);");
  expect(look).toMatch(/:focus-visible \{\s+outline: 3px solid var\(--focus\);/);
  const [light, dark] = colours();
  expect(dark?.size).toBeGreaterThan(5);
  for (const named of [light, new Map([...(light ?? []), ...(dark ?? [])])]) {
    const of = (name: string) => named?.get(name) ?? "";
    for (const ground of ["paper", "sheet", "amber-wash"])
      expect(contrast(of("amber-text"), of(ground)), ground).toBeGreaterThan(3);
    expect(contrast(of("amber"), of("bar"))).toBeGreaterThan(3);
  }
});
