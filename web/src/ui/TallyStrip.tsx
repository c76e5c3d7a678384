// The tally strip: one stroke a shot. The shape tells the state without colour.

import { type KeyboardEvent, useId, useLayoutEffect, useRef, useState } from "react";
import type { Schemas } from "../app/api";
import { type Bundle, layOut, type Placed, type Stroke } from "./strip-layout";

export interface StripShot extends Stroke {
  standing: Schemas["Standing"];
  /** What a screen reader says of it. */
  label: string;
}

interface Props {
  shots: StripShot[];
  blocks: { id: string; label: string }[];
  selected: number | undefined;
  best: number | undefined;
  onSelect: (index: number) => void;
  /** A key other than the arrows, with the strip in focus. */
  onKey: (key: string) => boolean;
  onOpen: (index: number) => void;
}

const TALL = 62;
const SHORT = 16;
const BASE = 82;
const LEAN = 9;

export function TallyStrip({ shots, blocks, selected, best, onSelect, onKey, onOpen }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(900);
  const prefix = useId();
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const watch = new ResizeObserver(() => setWidth(element.clientWidth));
    watch.observe(element);
    setWidth(element.clientWidth);
    return () => watch.disconnect();
  }, []);

  const spans = layOut(shots, width - 16, selected);
  const labels = new Map(blocks.map((b) => [b.id, b.label]));
  const move = (to: number) => onSelect(Math.max(0, Math.min(shots.length - 1, to)));
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
    else if (event.key === "Enter" && selected !== undefined) onOpen(selected);
    else if (!onKey(event.key)) return;
    event.preventDefault();
  };

  return (
    <div
      className="strip"
      ref={box}
      role="listbox"
      aria-label="Shots in hitting order"
      tabIndex={0}
      aria-activedescendant={selected === undefined ? undefined : `${prefix}${selected}`}
      onKeyDown={pressed}
    >
      <svg width={width} height={112} role="presentation">
        <g transform="translate(8 0)">
          {spans.map((span) => (
            <g key={`${span.id}${span.x}`}>
              <path className="strip-base" d={`M${span.x} ${BASE + 0.5}h${span.width}`} />
              <text x={span.x} y={BASE + 24} className="strip-block">
                {labels.get(span.id)}
              </text>
              {span.bundles.map((bundle) => (
                <g key={bundle.x}>
                  {bundle.folded && <FoldedMark bundle={bundle} shots={shots} />}
                  {bundle.strokes.map((placed) => (
                    <StrokeMark
                      key={placed.index}
                      id={`${prefix}${placed.index}`}
                      placed={placed}
                      shot={shots[placed.index]}
                      bundle={bundle}
                      chosen={placed.index === selected}
                      isBest={placed.index === best}
                      onSelect={onSelect}
                      onOpen={onOpen}
                    />
                  ))}
                  {!bundle.folded && bundle.strokes.length === 5 && (
                    <path
                      className="strip-bar"
                      d={`M${(bundle.strokes[0]?.x ?? 0) - 8} ${BASE - 8}L${(bundle.strokes[4]?.x ?? 0) + 8} ${BASE - 13}`}
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

function tall(shot: StripShot | undefined): number {
  return shot?.height === undefined ? 6 : SHORT + (TALL - SHORT) * shot.height;
}

/** A folded bundle: one bar from its least to its most. */
function FoldedMark({ bundle, shots }: { bundle: Bundle; shots: StripShot[] }) {
  const tops = bundle.strokes.map((p) => tall(shots[p.index]));
  const most = Math.max(...tops);
  const left = bundle.x + bundle.width / 2;
  const thick = Math.max(1, Math.min(5, bundle.width - 2));
  return (
    <g className="strip-folded">
      <path d={`M${left} ${BASE}V${BASE - most}`} strokeWidth={thick} />
    </g>
  );
}

interface MarkProps {
  id: string;
  placed: Placed;
  shot: StripShot | undefined;
  bundle: Bundle;
  chosen: boolean;
  isBest: boolean;
  onSelect: (index: number) => void;
  onOpen: (index: number) => void;
}

function StrokeMark({ id, placed, shot, bundle, chosen, isBest, onSelect, onOpen }: MarkProps) {
  if (!shot) return null;
  const top = BASE - tall(shot);
  const room = bundle.folded ? bundle.width : bundle.width / (bundle.strokes.length || 1);
  const half = Math.min(3, room / 3);
  const { x } = placed;
  return (
    <g
      id={id}
      role="option"
      aria-selected={chosen}
      aria-label={shot.label}
      data-standing={shot.standing}
      onClick={() => onSelect(placed.index)}
      onDoubleClick={() => onOpen(placed.index)}
    >
      <rect x={x - room / 2} y={0} width={room} height={BASE + 10} fill="transparent" />
      {!bundle.folded && (
        <>
          {shot.standing === "kept" && (
            <rect
              className="stroke-kept"
              x={x - half}
              y={top}
              width={half * 2}
              height={BASE - top}
            />
          )}
          {shot.standing === "set_aside" && (
            <path
              className="stroke-aside"
              d={`M${x - half - LEAN / 2} ${BASE}h${half * 2}l${LEAN} ${top - BASE}h${-half * 2}z`}
            />
          )}
          {shot.standing === "doubtful" && (
            <path
              className="stroke-doubtful"
              d={`M${x} ${BASE}V${top}`}
              strokeWidth={half * 2}
              strokeDasharray="5 4"
            />
          )}
          {isBest && <circle className="stroke-best" cx={x} cy={top - 9} r={4} />}
          {chosen && <path className="stroke-wedge" d={`M${x} ${BASE + 2}l7 8h-14z`} />}
        </>
      )}
    </g>
  );
}
