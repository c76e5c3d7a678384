import { describe, expect, it } from "vitest";
import { type BlockSpan, layOut, type Stroke } from "./strip-layout";

function shots(...blocks: [string, number][]): Stroke[] {
  return blocks.flatMap(([block, n]) =>
    Array.from({ length: n }, (_, i) => ({ id: `${block}${i}`, block })),
  );
}

const placed = (blocks: BlockSpan[]) =>
  blocks.flatMap((block) => block.bundles.flatMap((bundle) => bundle.strokes));

describe("the strokes of a strip", () => {
  it.each([1, 5, 6, 23, 60, 500])(
    "stand in hitting order inside the strip, all %i of them",
    (n) => {
      const drawn = layOut(shots(["a", n]), 900);
      const strokes = placed(drawn);
      expect(strokes.map((s) => s.index)).toEqual(Array.from({ length: n }, (_, i) => i));
      for (const [i, { x }] of strokes.entries()) {
        expect(x).toBeGreaterThanOrEqual(i === 0 ? 0 : (strokes[i - 1]?.x ?? 0));
        expect(x).toBeLessThanOrEqual(900);
      }
    },
  );

  it("are bundled in fives within a block", () => {
    const bundles = layOut(shots(["a", 12], ["b", 3]), 900).map((block) =>
      block.bundles.map((bundle) => bundle.strokes.length),
    );
    expect(bundles).toEqual([[5, 5, 2], [3]]);
  });

  it("keep a gap between blocks, and begin a block again when it is come back to", () => {
    const blocks = layOut(shots(["a", 4], ["b", 4], ["a", 2]), 900);
    expect(blocks.map((block) => block.id)).toEqual(["a", "b", "a"]);
    for (const [i, block] of blocks.entries()) {
      const before = blocks[i - 1];
      if (before) expect(block.x).toBeGreaterThan(before.x + before.width + 20);
    }
  });

  it("fold when there are too many, but never the bundle that is selected", () => {
    const all = (selected?: number) =>
      layOut(shots(["a", 500]), 900, selected).flatMap((block) => block.bundles);
    expect(all().every((bundle) => bundle.folded)).toBe(true);
    const open = all(250).filter((bundle) => !bundle.folded);
    expect(open).toHaveLength(1);
    expect(open[0]?.strokes.map((s) => s.index)).toContain(250);
  });

  it("stand no further apart than they should when there are few", () => {
    const strokes = placed(layOut(shots(["a", 3]), 900, undefined, 20));
    expect((strokes[1]?.x ?? 0) - (strokes[0]?.x ?? 0)).toBeLessThanOrEqual(20);
  });

  it("are none when no shot was hit", () => {
    expect(layOut([], 900)).toEqual([]);
  });
});
