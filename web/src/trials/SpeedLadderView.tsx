// What each step of club speed was worth, and where it flattens.

import type { EChartsCoreOption } from "echarts/core";
import { lazy, Suspense, useMemo } from "react";
import type { Dimension, Schemas } from "../app/api";
import { type Palette, useTheme } from "../app/theme";
import type { Words } from "../app/vocabulary";
import { along, around, band, polygon, tooltipOf, trace, up } from "../ui/chart-parts";
import { Loading, Trouble } from "../ui/Notice";
import { TableRoom } from "../ui/TableRoom";
import { useSpeedLadder } from "./queries";
import css from "./SpeedLadderView.module.css";
import trialsCss from "./trials.module.css";
import { VerdictHead } from "./VerdictHead";

const Chart = lazy(() => import("../ui/Chart").then((module) => ({ default: module.Chart })));

interface Props {
  session: string;
  club: string;
  words: Words;
  beneath: (verdict: Schemas["Verdict"]) => React.ReactNode;
}

export function SpeedLadderView({ session, club, words, beneath }: Props) {
  const { palette } = useTheme();
  const found = useSpeedLadder(session, club);
  const report = found.data;
  const option = useMemo(
    () => report && optionOf(report, words, palette),
    [report, words, palette],
  );
  if (!report) return found.isError ? <Trouble error={found.error} /> : <Loading />;
  const fit = report.straight ?? report.raw;
  const worth = (e: Schemas["Estimate"] | null | undefined) =>
    e
      ? `${words.bare("speed_worth", e.value)} (${words.bare("speed_worth", e.low)} to ${words.bare("speed_worth", e.high)})`
      : "–";
  return (
    <div className={`read-columns ${trialsCss.decideColumns}`}>
      <section aria-label="Verdict">
        <VerdictHead verdict={report.verdict} words={words} />
        {option && report.points.length > 0 && (
          <Suspense fallback={<div className="chart-space" />}>
            <Chart
              title="Carry against club speed; dots: put straight, rings: as it fell, triangles: outside its step"
              option={option}
              height={400}
              table={{
                columns: [
                  `club speed, ${words.symbol("speed")}`,
                  `carry, ${words.symbol("distance")}`,
                  "put straight",
                  "in its step",
                ],
                rows: report.points.map((p) => [
                  words.scaled("speed", p.speed).toFixed(1),
                  words.scaled("distance", p.carry).toFixed(1),
                  p.straight ? words.scaled("distance", p.straight).toFixed(1) : "",
                  p.in_step === null || p.in_step === undefined ? "" : p.in_step ? "yes" : "no",
                ]),
              }}
            />
          </Suspense>
        )}
      </section>
      <section aria-label="Steps">
        {fit && (
          <>
            <h2 className="minor">Carry for each {words.symbol("speed")} of club speed</h2>
            <p className={trialsCss.bigFigure}>
              <b>{words.show("speed_worth", fit.slope.value)}</b>{" "}
              <span>
                {Math.round(report.interval_level * 100)} % interval{" "}
                {words.bare("speed_worth", fit.slope.low)} to{" "}
                {words.bare("speed_worth", fit.slope.high)} · n {fit.slope.n}
              </span>
            </p>
            <TableRoom of="Table">
              <table className="figures">
                <thead>
                  <tr>
                    <th scope="col">
                      <span className="sr-only">Part of the ladder</span>
                    </th>
                    <th scope="col">put straight</th>
                    <th scope="col">as it fell</th>
                  </tr>
                </thead>
                <tbody>
                  <tr>
                    <th scope="row">over all</th>
                    <td>{worth(report.straight?.slope)}</td>
                    <td>{worth(report.raw?.slope)}</td>
                  </tr>
                  {["slow end", "middle", "fast end"].map((end, i) => (
                    <tr key={end}>
                      <th scope="row">{end}</th>
                      <td>{worth(report.straight?.local?.[i])}</td>
                      <td>{worth(report.raw?.local?.[i])}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </TableRoom>
          </>
        )}
        {report.rungs.length > 1 && (
          <>
            <h2 className="minor">Step by step</h2>
            <Rungs rungs={report.rungs} words={words} />
          </>
        )}
        {report.steps.length > 0 && (
          <>
            <h2 className="minor">Balls within their step</h2>
            <p className={css.steps}>
              {report.steps.map((step) => (
                <span key={step.label}>
                  {step.label} <b>{step.met}</b> of {step.of}
                </span>
              ))}
            </p>
          </>
        )}
        {beneath(report.verdict)}
      </section>
    </div>
  );
}

/** The speeds that were hit, and what each adds to the one before. */
function Rungs({ rungs, words }: { rungs: Schemas["Rung"][]; words: Words }) {
  const totals = rungs.some((rung) => rung.total != null);
  const spins = rungs.some((rung) => rung.spin != null);
  const told = (dimension: Dimension, si: number | null | undefined) =>
    si == null ? "" : words.bare(dimension, si);
  return (
    <TableRoom of="Table">
      <table className="figures">
        <thead>
          <tr>
            <th scope="col">{words.symbol("speed")}</th>
            <th scope="col">carry, {words.symbol("distance")}</th>
            {totals && <th scope="col">total</th>}
            {spins && <th scope="col">spin</th>}
            <th scope="col">{words.symbol("speed_worth")}</th>
            <th scope="col">n</th>
          </tr>
        </thead>
        <tbody>
          {rungs.map((rung) => (
            <tr key={rung.speed}>
              <th scope="row">{words.bare("speed", rung.speed)}</th>
              <td>{words.bare("distance", rung.carry)}</td>
              {totals && <td>{told("distance", rung.total)}</td>}
              {spins && <td>{told("spin", rung.spin)}</td>}
              <td>{told("speed_worth", rung.worth)}</td>
              <td className="second">{rung.n}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </TableRoom>
  );
}

function optionOf(
  report: Schemas["SpeedLadderReport"],
  words: Words,
  palette: Palette,
): EChartsCoreOption {
  const speed = (si: number) => words.scaled("speed", si);
  const far = (si: number) => words.scaled("distance", si);
  const { points } = report;
  const fit = report.straight ?? report.raw;
  const curve = (fit?.curve ?? []).map(
    ([at = 0, carry = 0, low = 0, high = 0]) =>
      [speed(at), far(carry), far(low), far(high)] as const,
  );
  const [slow, fast] = around(
    points.map((p) => speed(p.speed)),
    5,
  );
  const [low, high] = around(
    points.flatMap((p) => [far(p.carry), far(p.straight ?? p.carry)]),
    20,
  );
  return {
    animation: false,
    grid: { left: 46, right: 24, top: 26, bottom: 48 },
    tooltip: tooltipOf(palette),
    xAxis: { ...along(`club speed, ${words.symbol("speed")}`, palette), min: slow, max: fast },
    yAxis: { ...up(`carry, ${words.symbol("distance")}`, palette), min: low, max: high },
    series: [
      polygon(
        band(curve.map(([x, , from, to]) => [x, Math.max(low, from), Math.min(high, to)])),
        palette.teal,
      ),
      trace(
        curve.map(([x, y]) => [x, y]),
        { colour: palette.teal, width: 2.5, clip: true },
      ),
      {
        type: "scatter",
        symbolSize: 9,
        itemStyle: { color: "transparent", borderColor: palette.soft, borderWidth: 1.5 },
        data: points.map((p) => [speed(p.speed), far(p.carry)]),
      },
      {
        type: "scatter",
        symbolSize: 10,
        data: points.map((p) => ({
          value: [speed(p.speed), far(p.straight ?? p.carry)],
          symbol: p.in_step === false ? "triangle" : "circle",
          itemStyle: { color: p.in_step === false ? palette.plum : palette.ink },
        })),
        tooltip: {
          formatter: ({ dataIndex }: { dataIndex: number }) => {
            const p = points[dataIndex];
            return p
              ? `${words.show("speed", p.speed)}: ${words.show("distance", p.straight ?? p.carry)}${p.in_step === false ? ", outside its step" : ""}`
              : "";
          },
        },
      },
    ],
  };
}
