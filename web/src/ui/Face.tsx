// The club face as seen from in front: nine cells with the keys of a number pad, or the
// exact point.

import { type MouseEvent, useState } from "react";
import css from "./Face.module.css";

const ROWS = ["high", "middle", "low"];
/** What the picture of the face spans, mm either side of its centre. */
const HALF_WIDTH_MM = 36;
const HALF_HEIGHT_MM = 24;

interface Props {
  cell: number | undefined;
  leftHanded: boolean;
  choose: (cell: number) => void;
  /** The exact point, mm toward the toe and up. */
  pinpoint?: (toe: number, high: number) => void;
}

export function Face({ cell, leftHanded, choose, pinpoint }: Props) {
  const [exact, setExact] = useState(false);
  const sides = leftHanded ? ["heel", "centre", "toe"] : ["toe", "centre", "heel"];
  const point = (event: MouseEvent<HTMLElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const right = ((event.clientX - box.left) / box.width) * 2 - 1;
    const up = 1 - ((event.clientY - box.top) / box.height) * 2;
    const toe = (leftHanded ? right : -right) * HALF_WIDTH_MM;
    pinpoint?.(Math.round(toe), Math.round(up * HALF_HEIGHT_MM));
    setExact(false);
  };
  return (
    <div className="face-box">
      {exact ? (
        <button
          type="button"
          className={css.faceExact}
          onClick={point}
          aria-label="Exact point: click where the ball met the face"
        />
      ) : (
        <fieldset className={`face ${css.face}`} aria-label="Strike on the face">
          {ROWS.flatMap((row, r) =>
            sides.map((side, c) => {
              const at = (2 - r) * 3 + c + 1;
              return (
                <button
                  type="button"
                  key={at}
                  aria-pressed={at === cell}
                  aria-label={`${at}, ${row} ${side}`}
                  onClick={() => choose(at)}
                >
                  {at}
                </button>
              );
            }),
          )}
        </fieldset>
      )}
      <p className={`face-sides ${css.faceSides} quiet`}>
        <span>{sides[0]}</span>
        {pinpoint && (
          <button type="button" className="link" onClick={() => setExact(!exact)}>
            {exact ? "Nine cells" : "Exact point"}
          </button>
        )}
        <span>{sides[2]}</span>
      </p>
    </div>
  );
}
