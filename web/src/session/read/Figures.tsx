// The session's figures: each quantity, and carry against both expectations.

import { memo } from "react";
import type { Quantity, Schemas } from "../../app/api";
import type { Words } from "../../app/vocabulary";
import { TableRoom } from "../../ui/TableRoom";
import { CountOver } from "./CountOver";
import css from "./Figures.module.css";
import type { SessionRead } from "./queries";

const SHOWN: Quantity[] = [
  "club_speed",
  "ball_speed",
  "smash_factor",
  "angle_of_attack",
  "dynamic_loft",
  "launch_angle",
  "spin_rate",
  "apex",
  "landing_angle",
  "carry",
  "total",
  "side",
];

export const Figures = memo(function Figures({ read, words }: { read: SessionRead; words: Words }) {
  const { report } = read;
  // The session's own numbers stand first.
  const order = [...new Set([...read.session.shown, ...SHOWN])];
  const summaries = order
    .map((q) => report.summaries.find((s) => s.quantity === q))
    .filter((s) => s !== undefined);
  const aside = report.counts.set_aside > 0;
  return (
    <section aria-labelledby="figures">
      <h2 id="figures" className="minor">
        Figures
      </h2>
      <TableRoom of="Figures">
        <table className="figures">
          <thead>
            <tr>
              <th scope="col">
                <span className="sr-only">Value</span>
              </th>
              <th scope="col">mean</th>
              <th scope="col">spread</th>
              <th scope="col">best</th>
              {aside && <th scope="col">mean with set aside</th>}
            </tr>
          </thead>
          <tbody>
            {summaries.map((s) => (
              <SummaryRow key={s.quantity} summary={s} words={words} aside={aside} />
            ))}
          </tbody>
        </table>
      </TableRoom>
      <CountOver read={read} quantities={summaries.map((s) => s.quantity)} words={words} />
      <h2 className="minor">Carry against expectation</h2>
      <TableRoom of="Figures">
        <table className="figures">
          <thead>
            <tr>
              <th scope="col">
                <span className="sr-only">Basis</span>
              </th>
              <th scope="col">expected</th>
              <th scope="col">carried beyond it</th>
              <th scope="col">{Math.round(report.interval_level * 100)} % interval</th>
              <th scope="col">n</th>
            </tr>
          </thead>
          <tbody>
            <GapRow
              label="By club speed"
              expected={report.carry.by_club_speed}
              gap={report.carry.gap}
              words={words}
            />
            <GapRow
              label="By launch and spin"
              expected={report.carry.by_launch}
              gap={report.carry.launch_gap}
              words={words}
            />
          </tbody>
        </table>
      </TableRoom>
    </section>
  );
});

function SummaryRow(props: { summary: Schemas["QuantitySummary"]; words: Words; aside: boolean }) {
  const { summary, words, aside } = props;
  const { kept, with_set_aside, calculated, calculated_left_out } = summary;
  const { label, dimension, has_best } = words.quantity(summary.quantity);
  const symbol = words.symbol(dimension);
  const figure = (value: number | null | undefined) =>
    value === undefined || value === null
      ? "–"
      : symbol === "°"
        ? words.show(dimension, value)
        : words.bare(dimension, value);
  return (
    <tr>
      <th scope="row">
        {label}
        {symbol && symbol !== "°" ? `, ${symbol}` : ""}
        {calculated > 0 && calculated_left_out && (
          <small title="Calculated by the device: out of the figures, by the house rule">
            {" "}
            ≈ {calculated} left out
          </small>
        )}
        {calculated > 0 && !calculated_left_out && kept && (
          <small title={`${calculated} of ${kept.n} values were calculated by the device`}>
            {" "}
            ≈ {calculated} of {kept.n}
          </small>
        )}
      </th>
      <td>{figure(kept?.mean)}</td>
      <td>{figure(kept?.spread)}</td>
      <td>{has_best ? figure(kept?.best) : ""}</td>
      {aside && <td className="second">{figure(with_set_aside?.mean)}</td>}
    </tr>
  );
}

function GapRow(props: {
  label: string;
  expected: Schemas["Summary"] | null | undefined;
  gap: Schemas["Summary"] | null | undefined;
  words: Words;
}) {
  const { label, expected, gap, words } = props;
  const signed = (value: number) => `${value > 0 ? "+" : ""}${words.bare("distance", value)}`;
  // What is none as it is shown is none.
  const none = gap && !/[1-9]/.test(words.bare("distance", gap.mean));
  const way = none ? "as expected" : gap && gap.mean < 0 ? "▼ short" : "▲ further";
  return (
    <tr>
      <th scope="row">{label}</th>
      <td>{expected ? words.show("distance", expected.mean) : "–"}</td>
      <td>
        {gap ? (
          <>
            {signed(gap.mean)} <b className={css.way}>{way}</b>
          </>
        ) : (
          "–"
        )}
      </td>
      <td>{gap?.interval ? `${signed(gap.interval.low)} to ${signed(gap.interval.high)}` : "–"}</td>
      <td>{gap?.n ?? 0}</td>
    </tr>
  );
}
