// Sets held against each other: the sentence, the patterns, the difference against the
// margin, the figures.

import { lazy, Suspense } from "react";
import type { Dimension, Schemas } from "../app/api";
import { useTheme } from "../app/theme";
import type { Words } from "../app/vocabulary";
import { Ninths, StrikeCosts } from "../ui/StrikeCosts";
import { signed } from "../ui/signed";
import { TableRoom } from "../ui/TableRoom";
import css from "./CompareView.module.css";
import { IntervalBar } from "./IntervalBar";
import trialsCss from "./trials.module.css";
import { VerdictHead } from "./VerdictHead";
import { voice } from "./voices";

const PatternChart = lazy(() => import("./PatternChart"));

interface Props {
  report: Schemas["CompareReport"];
  words: Words;
  children?: React.ReactNode;
}

export function CompareView({ report, words, children }: Props) {
  const { palette } = useTheme();
  const { sets, differences, quantity } = report;
  const { dimension, label } = words.quantity(quantity);
  const patterns = sets.some((set) => set.landings.length > 0);
  const first = sets[0];
  return (
    <div className={`read-columns ${trialsCss.decideColumns}`}>
      <section aria-label="Verdict">
        <VerdictHead verdict={report.verdict} words={words} />
        {patterns && (
          <>
            <p className={css.voices}>
              {sets.map((set, i) => {
                const { sign, colour } = voice(i, palette);
                return (
                  <span key={set.label} style={{ color: colour }}>
                    <b aria-hidden="true">{sign}</b> {set.label}
                  </span>
                );
              })}
              {first?.pattern?.ellipse && (
                <small>
                  ellipses hold {Math.round(first.pattern.ellipse.share * 100)} % of balls to come
                </small>
              )}
            </p>
            <Suspense fallback={<div className="chart-space" />}>
              <PatternChart sets={sets} fairwayWidth={report.fairway_width} words={words} />
            </Suspense>
          </>
        )}
      </section>
      <section aria-label="Difference">
        {differences.map((d) => (
          <Difference
            key={d.set}
            d={d}
            report={report}
            words={words}
            dimension={dimension}
            what={`${label}, ${sets[d.set]?.label} minus ${first?.label}`}
          />
        ))}
        <SetTable report={report} words={words} />
        <StrikeCosts face={report.face} words={words} />
        {children}
      </section>
    </div>
  );
}

const TOLD: Record<Schemas["VerdictKind"], string> = {
  yes: "▲ more",
  no: "▼ less",
  same: "the same within the margin",
  cannot_tell_yet: "cannot tell yet",
};

function Difference(props: {
  d: Schemas["DifferenceRead"];
  report: Schemas["CompareReport"];
  words: Words;
  dimension: Dimension;
  what: string;
}) {
  const { d, report, words, dimension, what } = props;
  const symbol = words.symbol(dimension);
  // Looking again and again takes the level so high that it would read 100.
  const percent = report.interval_level * 100;
  const level = percent > 99 ? Math.min(percent, 99.9).toFixed(1) : percent.toFixed(0);
  const ratio = d.side_spread ?? d.spread;
  const { bests, clubs, worth } = d;
  return (
    <div className={css.difference}>
      <h2 className="minor">{what}</h2>
      <p className={trialsCss.bigFigure}>
        <b>
          {signed(d.difference.value, dimension, words)}
          {symbol === "°" ? "°" : ` ${symbol}`}
        </b>{" "}
        <span>
          {level} % interval {signed(d.difference.low, dimension, words)} to{" "}
          {signed(d.difference.high, dimension, words)} · {TOLD[d.kind]}
        </span>
      </p>
      <IntervalBar
        estimate={d.difference}
        margin={report.margin}
        dimension={dimension}
        words={words}
      />
      {ratio && (
        <>
          <h2 className="minor">
            {d.side_spread ? "Left–right spread" : "Spread"}, as a share of the first
          </h2>
          <p className={trialsCss.bigFigure}>
            <b>{ratio.ratio.value.toFixed(2)}</b>{" "}
            <span>
              {level} % interval {ratio.ratio.low.toFixed(2)} to {ratio.ratio.high.toFixed(2)} ·{" "}
              {ratio.ratio.high < 1 ? "tighter" : ratio.ratio.low > 1 ? "wider" : "cannot tell yet"}
            </span>
          </p>
        </>
      )}
      <p className={`quiet ${trialsCss.beside}`}>
        {bests && (
          <>
            Best of {bests.tries} tries each: {words.bare(dimension, bests.first)} and{" "}
            {words.show(dimension, bests.other)}
            {!bests.beyond_device && ", which the device cannot tell apart"}.{" "}
          </>
        )}
        {d.ball && <BallTold told={d.ball} words={words} />}
        {worth && <>Worth {words.show("distance", worth.value)} of carry by the house factor. </>}
        {clubs && Math.abs(clubs.value) >= 0.05 && (
          <>
            {clubs.value > 0 ? "A gain of" : "A loss of"} {Math.abs(clubs.value).toFixed(1)} clubs.
          </>
        )}
      </p>
    </div>
  );
}

/** What one kind of ball does against another from the same swing. */
function BallTold({ told, words }: { told: Schemas["BallTold"]; words: Words }) {
  return (
    <>
      For the same swing the {told.ball} ball leaves at {percent(told.speed)} of the {told.against}{" "}
      ball's speed
      {told.spin && <>, with {percent(told.spin)} of its spin</>}.{" "}
      {told.carry != null && told.would_carry != null && (
        <>
          What carried {words.show("distance", told.carry)} with it would carry about{" "}
          {words.show("distance", told.would_carry)} with the {told.against} ball, by the model.{" "}
        </>
      )}
    </>
  );
}

function SetTable({ report, words }: { report: Schemas["CompareReport"]; words: Words }) {
  const { sets, quantity } = report;
  const { dimension, label } = words.quantity(quantity);
  const rows: [string, (set: Schemas["SetRead"]) => React.ReactNode][] = [
    [`${label}, mean`, (set) => (set.kept ? words.show(dimension, set.kept.mean) : "–")],
    [
      "with those set aside",
      (set) => (set.with_set_aside ? words.show(dimension, set.with_set_aside.mean) : "–"),
    ],
    ["spread", (set) => (set.kept?.spread ? words.show(dimension, set.kept.spread) : "–")],
    ["balls, kept and set aside", (set) => `${set.counts.kept} + ${set.counts.set_aside}`],
  ];
  if (sets.some((set) => set.pattern)) {
    const wide = words.show("distance", report.fairway_width);
    rows.push(
      [`on a ${wide} fairway`, (set) => (set.pattern ? percent(set.pattern.fairway) : "–")],
      [
        "left to right, of ten balls",
        (set) => (set.pattern ? words.show("distance", set.pattern.left_right.of_ten) : "–"),
      ],
      [
        "short to long, of ten balls",
        (set) => (set.pattern ? words.show("distance", set.pattern.short_long.of_ten) : "–"),
      ],
      [
        "smallest circle that holds most",
        (set) =>
          set.pattern?.circle
            ? `${words.show("distance", 2 * set.pattern.circle.radius)} across, ${set.pattern.circle.holds} of ${set.pattern.n}`
            : "–",
      ],
      [
        "of the next balls it holds",
        (set) =>
          set.pattern?.circle?.next == null
            ? "–"
            : `about ${Math.round(100 * set.pattern.circle.next)} %`,
      ],
    );
  }
  if (sets.some((set) => set.strikes.of > 0))
    rows.push(
      ["centred strikes", (set) => `${set.strikes.centred} of ${set.strikes.of}`],
      ["strikes on the face, toe at the left", (set) => <Ninths strikes={set.strikes} />],
    );
  for (const beside of ["club_speed", "smash_factor", "launch_angle", "spin_rate"] as const) {
    if (beside === quantity) continue;
    if (!sets.some((set) => set.beside.some((b) => b.quantity === beside))) continue;
    const word = words.quantity(beside);
    rows.push([
      word.label.toLowerCase(),
      (set) => {
        const found = set.beside.find((b) => b.quantity === beside);
        return found ? words.show(word.dimension, found.kept.mean) : "–";
      },
    ]);
  }
  return (
    <TableRoom of="Table">
      <table className="figures">
        <thead>
          <tr>
            <th scope="col">
              <span className="sr-only">Value</span>
            </th>
            {sets.map((set) => (
              <th scope="col" key={set.label}>
                {set.label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(([name, cell]) => (
            <tr key={name}>
              <th scope="row">{name}</th>
              {sets.map((set) => (
                <td key={set.label}>{cell(set)}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </TableRoom>
  );
}

export function percent(estimate: Schemas["Estimate"]): string {
  const whole = (value: number) => Math.round(value * 100);
  return `${whole(estimate.value)} % (${whole(estimate.low)}–${whole(estimate.high)})`;
}
