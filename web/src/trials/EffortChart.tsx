// Real effort against feel with stock marked, and beneath, on the same scale, carry with
// its spread.

import type { CustomSeriesRenderItemAPI, CustomSeriesRenderItemParams } from "echarts";
import type { EChartsCoreOption } from "echarts/core";
import { useMemo } from "react";
import type { Schemas } from "../app/api";
import { type Palette, useTheme } from "../app/theme";
import type { Words } from "../app/vocabulary";
import { Chart, type ChartTable } from "../ui/Chart";
import {
  along,
  around,
  band,
  chartText,
  polygon,
  tooltipOf,
  trace,
  up,
  written,
} from "../ui/chart-parts";

interface Props {
  report: Schemas["EffortReport"];
  words: Words;
}

/** Where a level stands on the scale of feel, %: stock where the curve gives its speed. */
function feltAt(level: Schemas["EffortLevel"], report: Schemas["EffortReport"]) {
  const felt = level.felt ?? report.stock_at?.value;
  return felt === undefined ? undefined : felt * 100;
}

export default function EffortChart({ report, words }: Props) {
  const { palette } = useTheme();
  const option = useMemo(() => optionOf(report, words, palette), [report, words, palette]);
  const unit = words.symbol("distance");
  const table: ChartTable = {
    columns: [
      "effort",
      "felt, %",
      "real, %",
      "from",
      "to",
      `carry, ${unit}`,
      `left–right, ${unit}`,
    ],
    rows: report.levels.map((level) => [
      level.label,
      feltAt(level, report)?.toFixed(0) ?? "",
      (level.real.value * 100).toFixed(1),
      (level.real.low * 100).toFixed(1),
      (level.real.high * 100).toFixed(1),
      level.carry ? words.scaled("distance", level.carry.value).toFixed(1) : "",
      level.smoothed_spread?.[0]
        ? words.scaled("distance", level.smoothed_spread[0]).toFixed(1)
        : "",
    ]),
  };
  return (
    <Chart
      title="Real effort and carry against the effort felt"
      option={option}
      table={table}
      height={460}
    />
  );
}

function optionOf(
  report: Schemas["EffortReport"],
  words: Words,
  palette: Palette,
): EChartsCoreOption {
  const text = chartText(palette);
  const unit = words.symbol("distance");
  const { levels } = report;
  const feels = levels.filter((level) => level.felt !== null && level.felt !== undefined);
  const stock = levels.find((level) => level.felt === null || level.felt === undefined);
  const pct = (share: number) => share * 100;
  const least = Math.floor(Math.min(50, ...feels.map((l) => pct(l.felt ?? 1))) / 10) * 10 - 10;
  const most = Math.ceil(Math.max(100, ...feels.map((l) => pct(l.felt ?? 0))) / 10) * 10 + 10;
  const reals = levels.flatMap((level) => [pct(level.real.low), pct(level.real.high)]);
  const [realLow, realHigh] = around(reals, 10);
  const placed = levels.flatMap((level) => {
    const at = feltAt(level, report);
    const carry = level.carry;
    if (at === undefined || !carry) return [];
    const spread = level.smoothed_spread?.[1] ?? 0;
    const scaled = (si: number) => words.scaled("distance", si);
    return [
      {
        level,
        at,
        carry: scaled(carry.value),
        low: scaled(carry.value - spread),
        high: scaled(carry.value + spread),
      },
    ];
  });
  const [carryLow, carryHigh] = around(
    placed.flatMap((p) => [p.low, p.high]),
    20,
  );
  const felt = (gridIndex: number, label: boolean) => {
    const axis = along(label ? "effort felt, %" : "", palette);
    const axisLabel = { ...axis.axisLabel, show: label };
    return { ...axis, axisLabel, gridIndex, min: least, max: most, interval: 10 };
  };
  const rising = (gridIndex: number, name: string, min: number, max: number) => {
    const axis = up(name, palette);
    const axisLabel = { ...axis.axisLabel, showMinLabel: gridIndex === 0, hideOverlap: true };
    return { ...axis, axisLabel, gridIndex, min, max, splitNumber: 4 };
  };
  const stockAt = report.stock_at && pct(report.stock_at.value);
  const from = Math.max(least, realLow);
  const curve = feels.map((l) => [pct(l.felt ?? 0), pct(l.real.value)]);
  const playing = report.play === null || report.play === undefined ? -1 : report.play;
  return {
    animation: false,
    grid: [
      { left: 46, right: 92, top: 26, height: 206 },
      { left: 46, right: 92, top: 278, height: 136 },
    ],
    tooltip: tooltipOf(palette),
    xAxis: [felt(0, false), felt(1, true)],
    yAxis: [
      rising(0, "real effort, % of the fastest", Math.min(realLow, 60), Math.max(realHigh, 100)),
      rising(1, `carry, ${unit}, bars: spread short to long`, carryLow, carryHigh),
    ],
    series: [
      polygon(
        band(feels.map((l) => [pct(l.felt ?? 0), pct(l.real.low), pct(l.real.high)])),
        palette.teal,
      ),
      trace(
        [
          [from, from],
          [100, 100],
        ],
        { colour: palette.soft, width: 2, dash: [2, 4] },
      ),
      // Where few swing slower than they feel.
      written([from + 10, from + 10], "as felt", { ...text, position: "right", offset: [4, 8] }),
      trace(curve, { colour: palette.teal, width: 2.5 }),
      {
        type: "scatter",
        data: curve,
        symbolSize: 9,
        itemStyle: { color: palette.teal },
        tooltip: {
          formatter: ({ dataIndex }: { dataIndex: number }) => {
            const level = feels[dataIndex];
            return level
              ? `${level.label} felt: ${Math.round(pct(level.real.value))} % real, ${words.show("speed", level.speed.value)}, n ${level.n}`
              : "";
          },
        },
      },
      ...(stock && stockAt
        ? [
            trace(
              [
                [stockAt, Math.min(realLow, 60)],
                [stockAt, pct(stock.real.value)],
                [least, pct(stock.real.value)],
              ],
              { colour: palette.amber, width: 1.5, dash: [6, 5] },
            ),
            {
              type: "scatter",
              symbol: "diamond",
              symbolSize: 16,
              itemStyle: { color: palette.amber, borderColor: palette.ink, borderWidth: 1.5 },
              data: [[stockAt, pct(stock.real.value)]],
              label: {
                show: true,
                position: "bottom",
                formatter: `stock, as ${Math.round(stockAt)} %`,
                ...text,
                color: palette.amberText,
                fontWeight: 700,
                distance: 8,
                backgroundColor: palette.paper,
              },
            },
          ]
        : []),
      {
        type: "custom",
        silent: true,
        xAxisIndex: 1,
        yAxisIndex: 1,
        data: placed.map((p) => [p.at, p.low, p.high]),
        renderItem: (_: CustomSeriesRenderItemParams, at: CustomSeriesRenderItemAPI) => {
          const [x = 0, low = 0] = at.coord([at.value(0), at.value(1)]);
          const [, high = 0] = at.coord([at.value(0), at.value(2)]);
          return {
            type: "line",
            shape: { x1: x, y1: low, x2: x, y2: high },
            style: { stroke: palette.soft, lineWidth: 3, opacity: 0.55 },
          };
        },
      },
      {
        type: "scatter",
        xAxisIndex: 1,
        yAxisIndex: 1,
        data: placed.map((p) => {
          const isStock = p.level === stock;
          const plays = levels.indexOf(p.level) === playing;
          return {
            value: [p.at, p.carry],
            symbol: isStock ? "diamond" : "circle",
            symbolSize: isStock ? 15 : plays ? 14 : 10,
            itemStyle: {
              color: isStock || plays ? palette.amber : palette.ink,
              borderColor: palette.ink,
              borderWidth: isStock || plays ? 1.5 : 0,
            },
          };
        }),
        tooltip: {
          formatter: ({ dataIndex }: { dataIndex: number }) => {
            const p = placed[dataIndex];
            return p ? `${p.level.label}: ${Math.round(p.carry)} ${unit}` : "";
          },
        },
      },
    ],
  };
}
