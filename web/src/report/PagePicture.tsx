// The shots behind a sentence: a short stroke each, a tall one where their mean lies.

import { useRef } from "react";
import type { Schemas } from "../app/api";
import { useWidth } from "../ui/width";
import css from "./TakeHome.module.css";

const ROW = 46;
const TOP = 24;

export function PagePicture({ picture }: { picture: Schemas["ShownPicture"] }) {
  const box = useRef<HTMLDivElement>(null);
  const width = Math.max(useWidth(box), 240);
  const { label, ends, ends_said, rows } = picture;
  const [low = 0, high = 1] = ends;
  const right = width - 74;
  const x = (value: number) =>
    high === low ? right / 2 : 4 + ((value - low) / (high - low)) * (right - 8);
  const height = TOP + rows.length * ROW + 4;
  const said = rows.map((row) => `${row.label} ${row.mean_said}`).join(", ");
  return (
    <div ref={box} className={css.picture}>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        width="100%"
        role="img"
        aria-label={`${label}: ${said}`}
      >
        <text x={0} y={14} className={css.scale}>
          {label}
        </text>
        <text x={width} y={14} textAnchor="end" className={css.scale}>
          {ends_said[0] === ends_said[1] ? "" : `${ends_said[0]} to ${ends_said[1]}`}
        </text>
        {rows.map((row, i) => {
          const foot = TOP + (i + 1) * ROW - 6;
          return (
            <g key={row.label}>
              <text x={0} y={foot - 24} className={css.label}>
                {row.label}
              </text>
              <line x1={0} x2={right} y1={foot} y2={foot} className={css.ground} />
              {row.values.map((value, at) => (
                <line
                  key={at}
                  x1={x(value)}
                  x2={x(value)}
                  y1={foot}
                  y2={foot - 10}
                  className={css.shot}
                />
              ))}
              <line
                x1={x(row.mean)}
                x2={x(row.mean)}
                y1={foot + 3}
                y2={foot - 18}
                className={css.mean}
              />
              <text x={width} y={foot} textAnchor="end" className={css.number}>
                {row.mean_said}
              </text>
            </g>
          );
        })}
      </svg>
    </div>
  );
}
