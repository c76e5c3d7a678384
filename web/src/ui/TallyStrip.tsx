// The tally strip: one stroke a shot. The shape tells the state without colour.

import { type KeyboardEvent, useId, useRef } from "react";
import type { Schemas } from "../app/api";
import { type BlockSpan, type Bundle, layOut, type Placed, type Stroke } from "./strip-layout";
import css from "./TallyStrip.module.css";
import { useWidth } from "./width";

export interface StripShot extends Stroke {
  standing: Schemas["Standing"];
  /** What a screen reader says of it. */
  label: string;
}

/** A range that a block's strokes aim for, in stroke heights. */
export interface StripBand {
  block: string;
  low: number;
  high: number;
}

interface Props {
  shots: StripShot[];
  blocks: { id: string; label: string }[];
  /** Balls still to come, block by block, drawn as gaps to fill. */
  coming?: { id: string; label: string; balls: number }[];
  bands?: StripBand[];
  /** Height of the tallest stroke, px. */
  tall?: number;
  /** Whether the last stroke is the newest and stands out. */
  newest?: boolean;
  selected?: number | undefined;
  best: number | undefined;
  /** Chooses a shot; without it the strip is only looked at. */
  onSelect?: (index: number) => void;
  /** A key other than the arrows, with the strip in focus. */
  onKey?: (key: string) => boolean;
  onOpen?: (index: number) => void;
}

/** Where strokes begin and end, px. */
interface Heights {
  /** Of the least stroke. */
  short: number;
  tall: number;
  base: number;
  /** Half the width of the widest stroke. */
  half: number;
}

const TALL = 62;
const LEAN = 9;

export function TallyStrip(props: Props) {
  const { shots, blocks, coming = [], bands = [], selected, best, newest } = props;
  const { onSelect, onKey, onOpen } = props;
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box);
  const prefix = useId();

  const most = props.tall ?? TALL;
  const large = most > TALL;
  const heights: Heights = {
    short: large ? most * 0.25 : 16,
    tall: most,
    base: most + 20,
    half: large ? 8 : 3,
  };
  const { base } = heights;
  const gaps: Stroke[] = coming.flatMap((block) =>
    Array.from({ length: block.balls }, () => ({ id: "", block: block.id })),
  );
  const spans = layOut([...shots, ...gaps], width - 16, selected, large ? 50 : undefined);
  const labels = new Map([...coming, ...blocks].map((b) => [b.id, b.label]));
  const move = (to: number) => onSelect?.(Math.max(0, Math.min(shots.length - 1, to)));
  const pressed = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const at = selected ?? -1;
    const moves: Record<string, number> = {
      ArrowRight: at + 1,
      ArrowLeft: at < 0 ? shots.length - 1 : at - 1,
      Home: 0,
      End: shots.length - 1,
    };
    const to = moves[event.key];
    if (to !== undefined) move(to);
    else if (event.key === "Enter" && selected !== undefined) onOpen?.(selected);
    else if (!onKey?.(event.key)) return;
    event.preventDefault();
  };

  return (
    <div
      className={large ? `${css.strip} ${css.large}` : css.strip}
      ref={box}
      role="listbox"
      aria-label="Shots in hitting order"
      tabIndex={onSelect ? 0 : -1}
      aria-activedescendant={
        selected === undefined || selected >= shots.length ? undefined : `${prefix}${selected}`
      }
      onKeyDown={pressed}
    >
      <svg width={width} height={base + 30} role="presentation">
        <g transform="translate(8 0)">
          {spans.map((span) => (
            <g key={`${span.id}${span.x}`}>
              {bands
                .filter((band) => band.block === span.id)
                .map((band) => (
                  <BandMark key={band.low} band={band} span={span} heights={heights} />
                ))}
              <path className={css.stripBase} d={`M${span.x} ${base + 0.5}h${span.width}`} />
              <text x={span.x} y={base + 24} className={css.stripBlock}>
                {shortened(labels.get(span.id) ?? "", span.width)}
              </text>
              {span.bundles.map((bundle) => (
                <g key={bundle.x}>
                  {bundle.folded && <FoldedMark bundle={bundle} shots={shots} heights={heights} />}
                  {bundle.strokes.map((placed) =>
                    placed.index >= shots.length ? (
                      <GapMark key={placed.index} placed={placed} heights={heights} />
                    ) : (
                      <StrokeMark
                        key={placed.index}
                        id={`${prefix}${placed.index}`}
                        placed={placed}
                        shot={shots[placed.index]}
                        bundle={bundle}
                        heights={heights}
                        chosen={placed.index === selected}
                        isBest={placed.index === best}
                        isNewest={newest === true && placed.index === shots.length - 1}
                        onSelect={onSelect}
                        onOpen={onOpen}
                      />
                    ),
                  )}
                  {!bundle.folded &&
                    bundle.strokes.length === 5 &&
                    bundle.strokes.every((placed) => placed.index < shots.length) && (
                      <path
                        className={css.stripBar}
                        d={`M${(bundle.strokes[0]?.x ?? 0) - 8} ${base - 8}L${(bundle.strokes[4]?.x ?? 0) + 8} ${base - 13}`}
                      />
                    )}
                </g>
              ))}
            </g>
          ))}
        </g>
      </svg>
    </div>
  );
}

/** The range that a block aims for, behind its strokes. */
function BandMark(props: { band: StripBand; span: BlockSpan; heights: Heights }) {
  const { band, span, heights } = props;
  const at = (share: number) =>
    heights.base - (heights.short + (heights.tall - heights.short) * share);
  const [top, bottom] = [at(Math.min(1, band.high)), at(Math.max(-0.2, band.low))];
  return (
    <rect
      className={css.stripAim}
      x={span.x - 4}
      y={top}
      width={span.width + 8}
      height={Math.max(3, bottom - top)}
    />
  );
}

/** A ball still to come. */
function GapMark({ placed, heights }: { placed: Placed; heights: Heights }) {
  const { base, half } = heights;
  return (
    <path
      className={css.stripGap}
      d={`M${placed.x - half / 2} ${base - 10}h${half}v10h${-half}z`}
    />
  );
}

function tall(shot: StripShot | undefined, { short, tall }: Heights): number {
  return shot?.height === undefined ? 6 : short + (tall - short) * shot.height;
}

/** A folded bundle: one bar from its least to its most. */
function FoldedMark(props: { bundle: Bundle; shots: StripShot[]; heights: Heights }) {
  const { bundle, shots, heights } = props;
  const tops = bundle.strokes.map((p) => tall(shots[p.index], heights));
  const most = Math.max(...tops);
  const left = bundle.x + bundle.width / 2;
  const thick = Math.max(1, Math.min(5, bundle.width - 2));
  return (
    <g className={css.stripFolded}>
      <path d={`M${left} ${heights.base}V${heights.base - most}`} strokeWidth={thick} />
    </g>
  );
}

interface MarkProps {
  id: string;
  placed: Placed;
  shot: StripShot | undefined;
  bundle: Bundle;
  heights: Heights;
  chosen: boolean;
  isBest: boolean;
  isNewest: boolean;
  onSelect: Props["onSelect"];
  onOpen: Props["onOpen"];
}

function StrokeMark(props: MarkProps) {
  const { id, placed, shot, bundle, heights, chosen, isBest, isNewest } = props;
  const { onSelect, onOpen } = props;
  if (!shot) return null;
  const { base } = heights;
  const top = base - tall(shot, heights);
  const room = bundle.folded ? bundle.width : bundle.width / (bundle.strokes.length || 1);
  const half = Math.min(heights.half, room / 3);
  const { x } = placed;
  return (
    <g
      id={id}
      role="option"
      aria-selected={chosen}
      aria-label={shot.label}
      data-standing={shot.standing}
      onClick={() => onSelect?.(placed.index)}
      onDoubleClick={() => onOpen?.(placed.index)}
    >
      <rect x={x - room / 2} y={0} width={room} height={base + 10} fill="transparent" />
      {!bundle.folded && (
        <>
          {shot.standing === "kept" && (
            <rect
              className={isNewest ? `${css.strokeKept} ${css.newest}` : css.strokeKept}
              x={x - half}
              y={top}
              width={half * 2}
              height={base - top}
            />
          )}
          {shot.standing === "set_aside" && (
            <path
              className={css.strokeAside}
              d={`M${x - half - LEAN / 2} ${base}h${half * 2}l${LEAN} ${top - base}h${-half * 2}z`}
            />
          )}
          {shot.standing === "doubtful" && (
            <path
              className={css.strokeDoubtful}
              d={`M${x} ${base}V${top}`}
              strokeWidth={half * 2}
              strokeDasharray="5 4"
            />
          )}
          {isBest && <circle className={css.strokeBest} cx={x} cy={top - 9} r={4} />}
          {chosen && <path className={css.strokeWedge} d={`M${x} ${base + 2}l7 8h-14z`} />}
        </>
      )}
    </g>
  );
}

/** A label as far as its block has room, at about seven pixels a character and the gap to
 * the next block. */
function shortened(label: string, width: number): string {
  const room = Math.floor((width + 30) / 7);
  return label.length <= room ? label : `${label.slice(0, Math.max(1, room - 1)).trimEnd()}…`;
}
