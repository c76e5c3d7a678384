// A difference with its interval, against nothing and against the margin.

import type { Dimension, Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { signed } from "../ui/signed";
import css from "./IntervalBar.module.css";

interface Props {
  estimate: Schemas["Estimate"];
  margin: number;
  dimension: Dimension;
  words: Words;
}

export function IntervalBar({ estimate, margin, dimension, words }: Props) {
  const reach = 1.15 * Math.max(2 * margin, Math.abs(estimate.low), Math.abs(estimate.high));
  const at = (value: number) => `${50 + (value / reach) * 50}%`;
  const width = (from: number, to: number) => `${((to - from) / reach) * 50}%`;
  const said = `${signed(estimate.value, dimension, words)}, from ${signed(estimate.low, dimension, words)} to ${signed(estimate.high, dimension, words)}; margin ${words.show(dimension, margin)} either way`;
  return (
    <div className={css.intervalBar} role="img" aria-label={said}>
      <i className={css.margin} style={{ left: at(-margin), width: width(-margin, margin) }} />
      <i className={css.nothing} />
      <i
        className={css.interval}
        style={{ left: at(estimate.low), width: width(estimate.low, estimate.high) }}
      />
      <i className={css.point} style={{ left: at(estimate.value) }} />
      <span style={{ left: at(-margin) }}>your margin ±{words.show(dimension, margin)}</span>
    </div>
  );
}
