// Where each stroke of a tally strip stands, whatever the number of shots.

export interface Stroke {
  id: string;
  block: string;
  /** 0 (the session's least) to 1 (its most); absent when the shot lacks the value. */
  height?: number;
}

export interface Placed {
  index: number;
  x: number;
}

/** A bundle of up to five strokes; folded ones are drawn as one mark. */
export interface Bundle {
  x: number;
  width: number;
  folded: boolean;
  strokes: Placed[];
}

export interface BlockSpan {
  id: string;
  x: number;
  width: number;
  bundles: Bundle[];
}

const WIDEST = 32;
const NARROWEST = 8;
const FOLDED = 9;
const UNFOLDED = 11;
const BLOCK_GAP = 32;
const BUNDLE_SHARE = 0.5;

/** Lays strokes out in `width` pixels, none further apart than `widest`; the bundle of
 * `selected` is never folded. */
export function layOut(
  strokes: Stroke[],
  width: number,
  selected?: number,
  widest = WIDEST,
): BlockSpan[] {
  const blocks = groupByBlock(strokes);
  const bundles = blocks.map(({ indices }) => inFives(indices));
  const room = width - BLOCK_GAP * Math.max(0, blocks.length - 1);
  // A bundle takes a little more than its strokes, so that fives stand apart.
  const units = bundles.flat().reduce((sum, b) => sum + b.length + BUNDLE_SHARE, 0);
  const pitch = Math.min(widest, room / Math.max(1, units));
  const fold = pitch < NARROWEST;
  // What the one open bundle leaves is shared by the folded ones.
  const open = 5 * UNFOLDED;
  const folded = Math.min(FOLDED, (room - open) / Math.max(1, bundles.flat().length - 1));

  let x = 0;
  return blocks.map((block, b) => {
    const start = x;
    const laid = (bundles[b] ?? []).map((indices): Bundle => {
      const isFolded = fold && !indices.includes(selected ?? -1);
      const step = fold ? UNFOLDED : pitch;
      const bundleWidth = isFolded ? folded : (indices.length + (fold ? 0.2 : BUNDLE_SHARE)) * step;
      const bundle = {
        x,
        width: bundleWidth,
        folded: isFolded,
        strokes: indices.map((index, i) => ({
          index,
          x: isFolded ? x + bundleWidth / 2 : x + (i + 0.5) * step,
        })),
      };
      x += bundleWidth;
      return bundle;
    });
    const span = { id: block.id, x: start, width: x - start, bundles: laid };
    x += BLOCK_GAP;
    return span;
  });
}

function groupByBlock(strokes: Stroke[]): { id: string; indices: number[] }[] {
  const groups: { id: string; indices: number[] }[] = [];
  strokes.forEach((stroke, index) => {
    const last = groups.at(-1);
    if (last?.id === stroke.block) last.indices.push(index);
    else groups.push({ id: stroke.block, indices: [index] });
  });
  return groups;
}

function inFives(indices: number[]): number[][] {
  const fives: number[][] = [];
  for (let i = 0; i < indices.length; i += 5) fives.push(indices.slice(i, i + 5));
  return fives;
}
