// What the strip of the Hit station draws: the shots, what they aim for, and the balls
// still to come.

import type { Schemas } from "../../app/api";
import type { Words } from "../../app/vocabulary";
import { strokes } from "../../ui/strip";
import type { StripBand, StripShot } from "../../ui/TallyStrip";
import type { HitView, LiveShot } from "./queries";

/** Balls to come are drawn while the strip has room for them. */
const MOST_DRAWN = 60;
const BLOCKS_AHEAD = 4;

export interface HitStrip {
  shots: StripShot[];
  coming: { id: string; label: string; balls: number }[];
  bands: StripBand[];
}

/** What the strip is drawn of, at the station and on a board. */
export interface Hit {
  report: Schemas["HitReport"];
  shots: { id: string; block: string; values: LiveShot["values"] }[];
  blocks: { id: string; label: string; balls: number }[];
}

/** What the station shows, as a strip is drawn of it. */
export function hitOf({ report, shots, session }: HitView): Hit {
  const blocks = session.blocks.map(({ id, label, plan }) => ({ id, label, balls: plan.balls }));
  return { report, shots, blocks };
}

export function hitStrip(view: Hit, words: Words): HitStrip {
  const { report, blocks } = view;
  const greatest = report.shown[0];
  const { shots, height } = strokes(
    view.shots.map((shot, i) => ({
      id: shot.id,
      block: shot.block,
      number: i + 1,
      standing: report.shots[i]?.standing ?? "kept",
      value: greatest ? shot.values[greatest]?.si : undefined,
    })),
    greatest,
    words,
    report.bands.flatMap((band) => [band.low ?? [], band.high ?? []].flat()),
  );
  const { place } = report;
  const left = Math.max(0, place.balls - place.hit);
  let room = MOST_DRAWN - shots.length;
  const coming = blocks
    .slice(place.block, place.block + 1 + BLOCKS_AHEAD)
    .map((block, i) => ({
      id: block.id,
      label: block.label,
      balls: i === 0 ? left : block.balls,
    }))
    .filter((block, i) => {
      room -= block.balls;
      return block.balls > 0 && (room >= 0 || i === 0);
    });
  const bands = report.bands.map((band) => ({
    block: blocks[band.block]?.id ?? "",
    low: band.low == null ? 0 : height(band.low),
    high: band.high == null ? 1 : height(band.high),
  }));
  return { shots, coming, bands };
}
