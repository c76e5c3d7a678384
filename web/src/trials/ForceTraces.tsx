// Traces of a force session: before and after in one picture against the time before impact.

import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import { answered, api, type Schemas } from "../app/api";
import { keys } from "../app/keys";
import type { Words } from "../app/vocabulary";
import { said } from "../ui/Said";
import css from "./ForceTraces.module.css";

const TraceMarks = lazy(() => import("./TraceMarks"));

type Told = Schemas["ForceTraces"];
type Mean = Schemas["TraceMean"];

const CHANNELS: [Schemas["TraceChannel"], string, string][] = [
  ["lead", "Lead foot", "% of body weight"],
  ["trail", "Trail foot", "% of body weight"],
  ["both", "Both feet", "% of body weight"],
  ["torque", "Torque", "N·m"],
];
const [WIDTH, HEIGHT, LEFT, FOOT, TOP] = [640, 240, 48, 34, 22];

function useTraces(session: string) {
  return useQuery({
    queryKey: keys.session.traces(session),
    queryFn: () =>
      answered(api.GET("/api/v1/sessions/{session}/traces", { params: { path: { session } } })),
  });
}

export function ForceTraces({ session, words }: { session: string; words: Words }) {
  const told = useTraces(session).data?.told;
  return told ? <TracesTold told={told} words={words} /> : null;
}

/** Every trace by itself, beneath all that they tell. */
export function EveryTrace({ session }: { session: string }) {
  const found = useTraces(session).data;
  return (
    <Suspense fallback={null}>
      {found && <TraceMarks session={session} rows={found.traces} />}
    </Suspense>
  );
}

function TracesTold({ told, words }: { told: Told; words: Words }) {
  const checkpoints = told.sets.at(-1)?.checkpoints ?? [];
  return (
    <section aria-label="Traces" className={css.traces}>
      <h2 className="minor">When it was pushed</h2>
      <ul className={css.said}>
        {told.said.map((sentence) => (
          <li key={said(sentence, words)}>{said(sentence, words)}</li>
        ))}
      </ul>
      <p className={css.key}>
        {told.sets.map((set, i) => (
          <span key={set.label}>
            <svg width="34" height="10" aria-hidden="true">
              <path className={css[`line${i}`]} d="M0 5H34" />
            </svg>{" "}
            {set.label}, n {set.n}
          </span>
        ))}
        {checkpoints.length > 0 && (
          <span>
            <svg width="12" height="18" aria-hidden="true">
              <path className={css.checkpoint} d="M6 0V18" />
            </svg>{" "}
            {checkpoints
              .map(({ label, before_s }) => `${label} ${words.show("moment", before_s)}`)
              .join(", ")}{" "}
            before impact
          </span>
        )}
      </p>
      <div className={css.pictures}>
        {CHANNELS.map(([channel, label, unit]) => {
          const means = told.sets.map((set) => set.means.find((of) => of.channel === channel));
          if (means.every((mean) => mean === undefined)) return null;
          return (
            <figure key={channel}>
              <figcaption>
                <b>{label}</b>, {unit}
              </figcaption>
              <Picture told={told} means={means} label={label} words={words} />
            </figure>
          );
        })}
      </div>
      {told.stayed.map((sentence) => (
        <p key={said(sentence, words)}>{said(sentence, words)}</p>
      ))}
      {told.doubts.map((doubt) => (
        <p className="quiet" key={said(doubt, words)}>
          {said(doubt, words)}
        </p>
      ))}
      <p className="quiet">
        Means with what they might as well be. They moved together; what drove what is not told by
        it.
      </p>
    </section>
  );
}

function Picture(props: { told: Told; means: (Mean | undefined)[]; label: string; words: Words }) {
  const { told, means, label, words } = props;
  const times = told.before_s;
  const [first = 1, last = 0] = [times[0], times[times.length - 1]];
  const values = means.flatMap((mean) => mean?.line.flat() ?? []);
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const x = (before: number) => LEFT + ((first - before) / (first - last)) * (WIDTH - LEFT - 10);
  const y = (value: number) =>
    TOP + (1 - (value - low) / (high - low || 1)) * (HEIGHT - TOP - FOOT);
  const path = (mean: Mean, i: number) =>
    mean.line.map((at, j) => `${x(times[j] ?? 0)} ${y(at[i] ?? 0)}`);
  const marks = [1, 0.75, 0.5, 0.25].filter((before) => before < first);
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label={`${label} against time`}>
      <path
        className={css.late}
        d={`M${x(told.early_s)} ${TOP}H${x(last)}V${HEIGHT - FOOT}H${x(told.early_s)}Z`}
      />
      {[low, 0.5 * (low + high), high].map((value) => (
        <text className={css.tick} key={value} x={LEFT - 8} y={y(value) + 5} textAnchor="end">
          {Math.round(value)}
        </text>
      ))}
      {marks.map((before) => (
        <text className={css.tick} key={before} x={x(before)} y={HEIGHT - 10} textAnchor="middle">
          {words.show("moment", before)}
        </text>
      ))}
      {told.sets.at(-1)?.checkpoints.map(({ checkpoint, before_s }) => (
        <path
          key={checkpoint}
          className={css.checkpoint}
          d={`M${x(before_s)} ${TOP}V${HEIGHT - FOOT}`}
        />
      ))}
      <path className={css.impact} d={`M${x(0)} ${TOP}V${HEIGHT - FOOT}`} />
      <text className={css.tick} x={x(0)} y={HEIGHT - 10} textAnchor="middle">
        impact
      </text>
      {means.map(
        (mean, i) =>
          mean && (
            <g key={told.sets[i]?.label}>
              <path
                className={css[`band${i}`]}
                d={`M${path(mean, 1).join("L")}L${path(mean, 2).reverse().join("L")}Z`}
              />
              <path className={css[`line${i}`]} d={`M${path(mean, 0).join("L")}`} />
              <path
                className={css[`peak${i}`]}
                d={`M${x(mean.when.value)} ${Math.max(y(mean.peak.value) - 4, 12)}l-6 -10h12z`}
              />
            </g>
          ),
      )}
    </svg>
  );
}
