// The tally of one set: a stroke a swing, the line to beat, and places for those to come.

import type { Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import type { Stroke } from "./pending";
import css from "./RunStrip.module.css";

interface Props {
  strokes: Stroke[];
  set: Schemas["RunSet"];
  words: Words;
}

export function RunStrip({ strokes, set, words }: Props) {
  const speeds = strokes.flatMap(({ speed }) => (speed === undefined ? [] : [speed]));
  const beat = set.last?.best;
  const all = beat === undefined ? speeds : [...speeds, beat];
  const top = Math.max(...all, 0);
  const least = Math.min(...all, top);
  // From a little under the least: what differs is what is looked at.
  const foot = least - Math.max((top - least) * 0.6, top * 0.03);
  const height = (speed: number) => (top > foot ? (100 * (speed - foot)) / (top - foot) : 0);
  const standing = strokes.filter((stroke) => !stroke.aside);
  const coming = Math.max(0, set.asked - standing.length);
  return (
    <div className={css.strip}>
      {beat !== undefined && (
        <p className={css.line} style={{ bottom: `${height(beat)}%` }}>
          <span>to beat {words.bare("speed", beat)}</span>
        </p>
      )}
      <ol>
        {strokes.map((stroke) => (
          <li
            key={stroke.shot}
            className={kind(stroke)}
            style={{ height: `${Math.max(6, height(stroke.speed ?? foot))}%` }}
          >
            <span className="sr-only">{words_(stroke, words)}</span>
          </li>
        ))}
        {Array.from({ length: coming }, (_, at) => (
          <li key={`to come ${at}`} className={css.coming} aria-hidden="true" />
        ))}
      </ol>
    </div>
  );
}

function kind(stroke: Stroke) {
  if (stroke.aside) return css.aside;
  if (stroke.doubt) return css.doubtful;
  if (stroke.waiting) return css.waiting;
  return stroke.beat ? css.beat : css.kept;
}

function words_(stroke: Stroke, words: Words): string {
  const speed = stroke.speed === undefined ? "no reading" : words.show("speed", stroke.speed);
  const state = stroke.aside ? ", set aside" : stroke.doubt ? ", doubtful" : "";
  return speed + state;
}
