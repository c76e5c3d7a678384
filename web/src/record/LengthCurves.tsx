// Speed against length by height: each child a mark, the curve with what it might as well be,
// its peak, and the two thirds of the schools.

import type { Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { said } from "../ui/Said";
import css from "./ClubLength.module.css";

type View = Schemas["ClubLengthView"];
type Curve = Schemas["LengthCurve"];

const [WIDTH, HEIGHT, LEFT, FOOT, TOP] = [640, 300, 52, 44, 16];

export function LengthCurves({ view, words }: { view: View; words: Words }) {
  return (
    <div className={css.curves}>
      {(["club_speed", "hand_speed"] as const).map((quantity) => {
        const curves = view.read.groups.flatMap((group, i) =>
          group.curves
            .filter((curve) => curve.quantity === quantity)
            .map((curve) => ({ curve, place: i })),
        );
        if (curves.length === 0) return null;
        const { label } = words.quantity(quantity);
        return (
          <figure key={quantity}>
            <figcaption>
              <b>{label}</b>
              {curves.map(({ curve, place }) => (
                <span key={place}>
                  <Mark place={place} /> {groupName(view, place)} {said(curve.said, words)}
                </span>
              ))}
            </figcaption>
            <Picture curves={curves} view={view} label={label} words={words} />
          </figure>
        );
      })}
    </div>
  );
}

function groupName(view: View, place: number): string {
  const { groups } = view.read;
  if (groups.length < 2) return "";
  const { from, to } = groups[place] ?? {};
  if (from == null) return `under ${(to ?? 0).toFixed(2)} m:`;
  return `from ${from.toFixed(2)} m on:`;
}

/** The groups' marks differ by shape, not by colour alone. */
function Mark({ place }: { place: number }) {
  return (
    <svg width="14" height="14" viewBox="-7 -7 14 14" aria-hidden="true">
      <Shape place={place} />
    </svg>
  );
}

function Shape({ place }: { place: number }) {
  const shapes = ["M-5 5L0 -6L5 5Z", "M-5 -5H5V5H-5Z", "M0 -6L6 0L0 6L-6 0Z"];
  return <path className={css[`mark${place % 3}`]} d={shapes[place % 3]} />;
}

function Picture(props: {
  curves: { curve: Curve; place: number }[];
  view: View;
  label: string;
  words: Words;
}) {
  const { curves, view, label, words } = props;
  const points = curves.flatMap(({ curve }) => curve.points);
  const shares = [...points.map((point) => point.share), view.read.schools];
  const lines = curves.flatMap(({ curve }) => curve.line);
  const speeds = [...points.map((point) => point.mean), ...lines.map((at) => at[2] ?? 0)];
  const [x0, x1] = [Math.min(...shares) - 0.01, Math.max(...shares) + 0.01];
  const room = Math.max(0.08 * (Math.max(...speeds) - Math.min(...speeds)), 0.5);
  const [y0, y1] = [Math.min(...speeds) - room, Math.max(...speeds) + room];
  const x = (share: number) => LEFT + ((share - x0) / (x1 - x0)) * (WIDTH - LEFT - 12);
  const y = (speed: number) =>
    TOP + (1 - (Math.min(Math.max(speed, y0), y1) - y0) / (y1 - y0)) * (HEIGHT - TOP - FOOT);
  const within = (share: number) => Math.min(Math.max(share, x0), x1);
  const path = (at: number[][], i: number) =>
    at.map((point) => `${x(point[0] ?? 0)} ${y(point[i] ?? 0)}`).join("L");
  const ticks = [0.5, 0.55, 0.6, 0.65, 0.7, 0.75, 0.8, 0.85].filter((t) => t > x0 && t < x1);
  const heights = [0.1, 0.5, 0.9].map((share) => y0 + share * (y1 - y0));
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label={`${label} by length and height`}>
      {heights.map((speed) => (
        <g key={speed}>
          <path className={css.grid} d={`M${LEFT} ${y(speed)}H${WIDTH - 12}`} />
          <text className={css.tick} x={LEFT - 8} y={y(speed) + 5} textAnchor="end">
            {words.bare("speed", speed)}
          </text>
        </g>
      ))}
      {ticks.map((share) => (
        <text className={css.tick} key={share} x={x(share)} y={HEIGHT - 22} textAnchor="middle">
          {words.bare("ratio", share)}
        </text>
      ))}
      <text className={css.tick} x={WIDTH - 12} y={HEIGHT - 4} textAnchor="end">
        length of the club by the child’s height
      </text>
      <path className={css.schools} d={`M${x(view.read.schools)} ${TOP}V${HEIGHT - FOOT}`} />
      <text className={css.tick} x={x(view.read.schools) + 5} y={TOP + 12}>
        two thirds
      </text>
      {curves.map(
        ({ curve, place }) =>
          curve.line.length > 0 && (
            <g key={place}>
              <path
                className={css.band}
                d={`M${path(curve.line, 1)}L${path([...curve.line].reverse(), 3)}Z`}
              />
              <path className={css.line} d={`M${path(curve.line, 2)}`} />
              {curve.peak && (
                <path
                  className={css.peak}
                  d={`M${x(within(curve.peak.low))} ${HEIGHT - FOOT + 3 - 7 * place}H${x(within(curve.peak.high))}`}
                />
              )}
            </g>
          ),
      )}
      {curves.map(({ curve, place }) =>
        curve.points.map((point) => {
          const child = view.children[point.child];
          return (
            <g
              key={`${point.child} ${point.share}`}
              transform={`translate(${x(point.share)} ${y(point.mean)})`}
            >
              <title>
                {child?.name}: {words.bare("ratio", point.share)} of the height,{" "}
                {words.show("speed", point.mean)}, n {point.n}
              </title>
              <Shape place={place} />
              <text className={css.initials} x={8} y={4}>
                {child?.initials}
              </text>
            </g>
          );
        }),
      )}
    </svg>
  );
}
