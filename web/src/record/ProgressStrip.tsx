// The progress strip: every day a bundle of strokes on one time axis, with the level, its
// band, and the goal. Shapes tell lay-offs, off days and another device without colour.

import { type KeyboardEvent, useId, useRef } from "react";
import type { Schemas } from "../app/api";
import { LOCALE } from "../app/local";
import type { Words } from "../app/vocabulary";
import { day as dayOf } from "../ui/day";
import { useWidth } from "../ui/width";
import css from "./ProgressStrip.module.css";
import { dayNumber, type Scale, scaleOf } from "./strip-scale";

type Day = Schemas["DayRead"];

interface Props {
  progress: Schemas["ProgressRead"];
  words: Words;
  selected: number | undefined;
  onSelect: (place: number) => void;
  onOpen: (place: number) => void;
}

const HEIGHT = 250;
const TOP = 26;
const FOOT = 44;
const LEFT = 52;
const RIGHT = 14;

export function ProgressStrip({ progress, words, selected, onSelect, onOpen }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const width = useWidth(box);
  const prefix = useId();
  const { dimension, label } = words.quantity(progress.quantity);
  const { days } = progress;
  const size = { width, height: HEIGHT, left: LEFT, right: RIGHT, top: TOP };
  const scale = scaleOf(progress, size, words.internal(dimension, 1));
  const at = (day: Day) => scale.x(dayNumber(day.date));
  const pressed = (event: KeyboardEvent) => {
    const place = selected ?? days.length;
    const moves: Record<string, number> = {
      ArrowRight: place + 1,
      ArrowLeft: place - 1,
      Home: 0,
      End: days.length - 1,
    };
    const to = moves[event.key];
    if (to !== undefined) onSelect(Math.max(0, Math.min(days.length - 1, to)));
    else if (event.key === "Enter" && selected !== undefined) onOpen(selected);
    else return;
    event.preventDefault();
  };
  return (
    <div
      ref={box}
      className={css.strip}
      role="listbox"
      aria-label={`${label} day by day`}
      tabIndex={0}
      aria-activedescendant={selected === undefined ? undefined : `${prefix}${selected}`}
      onKeyDown={pressed}
    >
      <svg width={width} height={HEIGHT + FOOT} role="presentation">
        {scale.lines.map((line) => (
          <g key={line}>
            <path className={css.line} d={`M${LEFT} ${scale.y(line)}H${width - RIGHT}`} />
            <text className={css.scale} x={LEFT - 8} y={scale.y(line) + 5} textAnchor="end">
              {words.bare(dimension, line)}
            </text>
          </g>
        ))}
        <text className={css.scale} x={LEFT - 8} y={14} textAnchor="end">
          {words.symbol(dimension)}
        </text>
        <Months progress={progress} scale={scale} width={width} />
        <LevelBand days={days} scale={scale} />
        <Goal progress={progress} scale={scale} words={words} width={width} />
        {progress.lay_offs.map((lay) => (
          <LayOff key={lay.before} lay={lay} days={days} scale={scale} />
        ))}
        {days.map((day, i) => (
          <g
            key={`${day.date} ${otherwise(day)}`}
            id={`${prefix}${i}`}
            role="option"
            aria-selected={i === selected}
            aria-label={inWords(day, words, dimension)}
            className={css.day}
            onClick={() => (i === selected ? onOpen(i) : onSelect(i))}
          >
            <rect x={at(day) - 24} y={0} width={48} height={HEIGHT + 20} fill="transparent" />
            <Bundle day={day} x={at(day)} scale={scale} />
            {i === selected && (
              <path className={css.wedge} d={`M${at(day)} ${HEIGHT + 3}l7 11h-14z`} />
            )}
          </g>
        ))}
      </svg>
    </div>
  );
}

/** A day: a stroke for each ball at its height, and a bar through them at the mean. */
function Bundle({ day, x, scale }: { day: Day; x: number; scale: Scale }) {
  const n = day.values.length;
  const room = scale.bundle;
  const pitch = Math.min(6, room / n);
  const folded = pitch < 2.2;
  const mean = scale.y(day.mean);
  const half = folded ? room / 2 : (n * pitch) / 2 + 2;
  const lean = day.off ? 4 : 0;
  const kind = day.off ? css.off : day.other_device ? css.other : css.stroke;
  return (
    <>
      {folded ? (
        <path
          className={kind}
          d={`M${x + lean} ${scale.y(Math.max(...day.values))}L${x - lean} ${scale.y(Math.min(...day.values))}`}
        />
      ) : (
        day.values.map((value, i) => {
          const at = x + (i - (n - 1) / 2) * pitch;
          const y = scale.y(value);
          return (
            <path key={i} className={kind} d={`M${at + lean} ${y - 8}L${at - lean} ${y + 8}`} />
          );
        })
      )}
      <path className={css.mean} d={`M${x - half} ${mean}H${x + half}`} />
      {day.off && (
        <text className={css.mark} x={x} y={HEIGHT + 18} textAnchor="middle">
          off
        </text>
      )}
    </>
  );
}

function LevelBand({ days, scale }: { days: Day[]; scale: Scale }) {
  const levels = days.flatMap((day) =>
    day.level ? [{ x: scale.x(dayNumber(day.date)), level: day.level }] : [],
  );
  if (levels.length < 2) return null;
  const path = (of: (typeof levels)[number][], end: "low" | "high" | "value") =>
    of.map(({ x, level }) => `${x} ${scale.y(level[end])}`).join("L");
  return (
    <>
      <path
        className={css.band}
        d={`M${path(levels, "high")}L${path([...levels].reverse(), "low")}Z`}
      />
      <path className={css.level} d={`M${path(levels, "value")}`} />
    </>
  );
}

function Goal(props: {
  progress: Schemas["ProgressRead"];
  scale: Scale;
  words: Words;
  width: number;
}) {
  const { progress, scale, words, width } = props;
  const { forecast, days } = progress;
  const last = days.at(-1);
  if (!forecast || !last) return null;
  const y = scale.y(forecast.goal);
  const { dimension } = words.quantity(progress.quantity);
  const start = scale.x(dayNumber(last.date));
  const clip = (date?: string | null) =>
    Math.min(width - RIGHT, date ? scale.x(dayNumber(date)) : width - RIGHT);
  const level = last.level?.value ?? last.mean;
  return (
    <>
      {!forecast.reached && forecast.from && (
        <path
          className={css.cone}
          d={`M${start} ${scale.y(level)}L${clip(forecast.from)} ${y}H${clip(forecast.to)}Z`}
        />
      )}
      <path className={css.goal} d={`M${LEFT} ${y}H${width - RIGHT}`} />
      <text className={css.goalText} x={LEFT + 6} y={y - 6}>
        goal {words.show(dimension, forecast.goal)}
      </text>
      {forecast.by && dayNumber(forecast.by) <= scale.until && (
        <path className={css.goal} d={`M${scale.x(dayNumber(forecast.by))} ${y - 12}v24`} />
      )}
    </>
  );
}

function LayOff(props: { lay: Schemas["LayOff"]; days: Day[]; scale: Scale }) {
  const { lay, days, scale } = props;
  const [before, after] = [days[lay.before - 1], days[lay.before]];
  if (!before || !after) return null;
  const x = (scale.x(dayNumber(before.date)) + scale.x(dayNumber(after.date))) / 2;
  return (
    <>
      <path className={css.rest} d={`M${x - 6} ${HEIGHT - 6}l4 12m4 -12l4 12`} />
      <text className={css.mark} x={x} y={HEIGHT - 14} textAnchor="middle">
        {Math.round(lay.days / 7)} weeks off
      </text>
    </>
  );
}

function Months(props: { progress: Schemas["ProgressRead"]; scale: Scale; width: number }) {
  const { progress, scale, width } = props;
  const first = progress.days[0];
  if (!first) return null;
  const marks: { x: number; text: string }[] = [];
  const month = new Date(first.date);
  const told = (date: Date) => date.toLocaleDateString(LOCALE, { month: "short", timeZone: "UTC" });
  marks.push({
    x: LEFT,
    text: new Date(first.date).toLocaleDateString(LOCALE, {
      day: "numeric",
      month: "short",
      year: "numeric",
      timeZone: "UTC",
    }),
  });
  month.setUTCDate(1);
  for (;;) {
    month.setUTCMonth(month.getUTCMonth() + 1);
    const at = month.getTime() / 86_400_000;
    if (at > scale.until) break;
    const x = scale.x(at);
    const before = marks.at(-1)?.x ?? 0;
    if (x - before > (marks.length === 1 ? 96 : 52) && x < width - 30)
      marks.push({ x, text: told(month) });
  }
  return (
    <>
      <path className={css.axis} d={`M${LEFT} ${HEIGHT + 0.5}H${width - RIGHT}`} />
      {marks.map((mark) => (
        <g key={mark.x}>
          <path className={css.axis} d={`M${mark.x} ${HEIGHT}v6`} />
          <text className={css.scale} x={mark.x} y={HEIGHT + 36}>
            {mark.text}
          </text>
        </g>
      ))}
    </>
  );
}

/** What was otherwise than on the first day. */
export function otherwise(day: Day): string[] {
  return [
    ...(day.other_device ? ["another device"] : []),
    ...(day.other_roof ? ["another roof"] : []),
    ...(day.other_head ? ["another club"] : []),
  ];
}

/** A day for those who do not see it. */
export function inWords(day: Day, words: Words, dimension: Schemas["Dimension"]): string {
  return [
    dayOf(day.date, "UTC"),
    `average ${words.show(dimension, day.mean)} of ${day.values.length}`,
    ...(day.best == null ? [] : [`best ${words.show(dimension, day.best)}`]),
    ...(day.off ? ["an off day"] : []),
    ...otherwise(day),
  ].join(", ");
}
