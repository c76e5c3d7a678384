// Club speed in hitting order with the fitted warm-up, blocks shaded.

import type { EChartsCoreOption } from "echarts/core";
import { lazy, Suspense, useMemo } from "react";
import type { Schemas } from "../app/api";
import { type Palette, useTheme } from "../app/theme";
import type { Words } from "../app/vocabulary";
import { along, around, chartText, strip, tooltipOf, trace, up, written } from "../ui/chart-parts";
import { Loading, Trouble } from "../ui/Notice";
import { useWarmUpEffect } from "./queries";
import trialsCss from "./trials.module.css";
import { VerdictHead } from "./VerdictHead";

const Chart = lazy(() => import("../ui/Chart").then((module) => ({ default: module.Chart })));

interface Props {
  session: string;
  club: string;
  words: Words;
  beneath: (verdict: Schemas["Verdict"]) => React.ReactNode;
}

export function WarmUpView({ session, club, words, beneath }: Props) {
  const { palette } = useTheme();
  const found = useWarmUpEffect(session, club);
  const report = found.data;
  const option = useMemo(
    () => report && optionOf(report, words, palette),
    [report, words, palette],
  );
  if (!report) return found.isError ? <Trouble error={found.error} /> : <Loading />;
  const { fit } = report;
  const speed = (e: Schemas["Estimate"]) =>
    `${words.bare("speed", e.low)} to ${words.show("speed", e.high)}`;
  return (
    <div className={`read-columns ${trialsCss.decideColumns}`}>
      <section aria-label="Verdict">
        <VerdictHead verdict={report.verdict} words={words} />
        {option && report.swings.length > 0 && (
          <Suspense fallback={<div className="chart-space" />}>
            <Chart
              title="Club speed in hitting order, with the fitted warm-up"
              option={option}
              height={380}
              table={{
                columns: ["swing", "block", `club speed, ${words.symbol("speed")}`, "fitted"],
                rows: report.swings.map((s) => [
                  s.order + 1,
                  report.labels[s.label] ?? "",
                  words.scaled("speed", s.speed).toFixed(1),
                  s.fitted ? words.scaled("speed", s.fitted).toFixed(1) : "",
                ]),
              }}
            />
          </Suspense>
        )}
      </section>
      <section aria-label="Figures">
        {fit && (
          <table className="figures">
            <tbody>
              <tr>
                <th scope="row">Gain from the first swing on</th>
                <td>{words.show("speed", fit.gain.value)}</td>
                <td className="second">{speed(fit.gain)}</td>
              </tr>
              {fit.shows === "seen" && (
                <tr>
                  <th scope="row">Swings until warm</th>
                  <td>{Math.round(fit.warm_after.value)}</td>
                  <td className="second">
                    {Math.round(fit.warm_after.low)} to {Math.round(fit.warm_after.high)}
                  </td>
                </tr>
              )}
              <tr>
                <th scope="row">Plateau</th>
                <td>{words.show("speed", fit.plateau.value)}</td>
                <td className="second">{speed(fit.plateau)}</td>
              </tr>
              {fit.fatigue && (
                <tr>
                  <th scope="row">Lost over ten swings</th>
                  <td>{words.show("speed", 10 * fit.fatigue.value)}</td>
                  <td className="second">
                    {words.bare("speed", 10 * fit.fatigue.low)} to{" "}
                    {words.show("speed", 10 * fit.fatigue.high)}
                  </td>
                </tr>
              )}
              {fit.retention && fit.retention_by_luck && (
                <tr>
                  <th scope="row">Retention: last stretch of the best</th>
                  <td>{(fit.retention * 100).toFixed(1)} %</td>
                  <td className="second">{(fit.retention_by_luck * 100).toFixed(1)} % by luck</td>
                </tr>
              )}
            </tbody>
          </table>
        )}
        {beneath(report.verdict)}
      </section>
    </div>
  );
}

interface Run {
  from: number;
  to: number;
  label: string;
}

/** Stretches of swings of one kind of block. */
function runs(report: Schemas["WarmUpReport"]): Run[] {
  const found: Run[] = [];
  for (const swing of report.swings) {
    const label = report.labels[swing.label] ?? "";
    const last = found.at(-1);
    if (last && last.label === label) last.to = swing.order + 1.5;
    else found.push({ from: swing.order + 0.5, to: swing.order + 1.5, label });
  }
  return found;
}

function optionOf(
  report: Schemas["WarmUpReport"],
  words: Words,
  palette: Palette,
): EChartsCoreOption {
  const text = chartText(palette);
  const speed = (si: number) => words.scaled("speed", si);
  const { swings } = report;
  const [low, high] = around(
    swings.flatMap((s) => [speed(s.speed), speed(s.fitted ?? s.speed)]),
    5,
  );
  const last = (swings.at(-1)?.order ?? 0) + 1.5;
  const stretches = runs(report);
  const wide = stretches.length <= 8;
  return {
    animation: false,
    grid: { left: 46, right: 16, top: 26, bottom: 48 },
    tooltip: tooltipOf(palette),
    xAxis: { ...along("swing", palette), min: 0.5, max: last, minInterval: 1 },
    yAxis: { ...up(`club speed, ${words.symbol("speed")}`, palette), min: low, max: high },
    series: [
      ...stretches.map((run, i) =>
        strip("x", [run.from, run.to], palette.ink, i % 2 ? 0.07 : 0.025),
      ),
      ...(wide ? stretches : []).map((run) =>
        written([(run.from + run.to) / 2, low], run.label, { ...text, position: "top" }),
      ),
      {
        type: "scatter",
        symbolSize: 9,
        itemStyle: { color: palette.ink },
        data: swings.map((s) => [s.order + 1, speed(s.speed)]),
        tooltip: {
          formatter: ({ dataIndex }: { dataIndex: number }) => {
            const s = swings[dataIndex];
            return s
              ? `Swing ${s.order + 1}, ${report.labels[s.label]}: ${words.show("speed", s.speed)}`
              : "";
          },
        },
      },
      // One curve for each stretch: between kinds of block the plateau jumps.
      ...stretches.map((run) =>
        trace(
          swings.flatMap((s) =>
            s.order + 1 > run.from && s.order + 1 < run.to && s.fitted
              ? [[s.order + 1, speed(s.fitted)]]
              : [],
          ),
          { colour: palette.amber, width: 3 },
        ),
      ),
    ],
  };
}
