// This swing with every loft: how far it carries, and how far it goes with the run.

import type { EChartsCoreOption } from "echarts/core";
import { useMemo } from "react";
import type { Schemas } from "../app/api";
import { type Palette, useTheme } from "../app/theme";
import type { Words } from "../app/vocabulary";
import { Chart } from "../ui/Chart";
import { chartText, trace, written } from "../ui/chart-parts";

interface Props {
  answer: Schemas["OtherClub"];
  /** Loft of the other club, deg. */
  loft: number;
  words: Words;
}

export default function LoftChart({ answer, loft, words }: Props) {
  const { palette } = useTheme();
  const option = useMemo(
    () => optionOf(answer.lofts, loft, words, palette),
    [answer, loft, words, palette],
  );
  const unit = words.symbol("distance");
  return (
    <Chart
      title="Carry and total by the loft of the club"
      option={option}
      height={300}
      table={{
        columns: ["loft, °", `carry, ${unit}`, `total, ${unit}`],
        rows: answer.lofts.map((point) => [
          words.bare("angle", point.loft_deg),
          words.bare("distance", point.carry),
          words.bare("distance", point.total),
        ]),
      }}
    />
  );
}

function optionOf(
  lofts: Schemas["LoftPoint"][],
  loft: number,
  words: Words,
  palette: Palette,
): EChartsCoreOption {
  const scaled = (v: number) => words.scaled("distance", v);
  const text = chartText(palette);
  const line = (of: "carry" | "total") => lofts.map((p) => [p.loft_deg, scaled(p[of])]);
  const [carry, total] = [line("carry"), line("total")];
  const all = [...carry, ...total].map((p) => p[1] ?? 0);
  const named = (data: number[][], name: string, position: "top" | "bottom", color: string) =>
    data
      .slice(3, 4)
      .map((at) => written(at, name, { ...text, position, distance: 8, color, fontWeight: 600 }));
  const here = lofts.find((p) => Math.abs(p.loft_deg - loft) < 0.26);
  return {
    animation: false,
    grid: { left: 52, right: 24, top: 28, bottom: 44 },
    xAxis: {
      type: "value",
      min: lofts[0]?.loft_deg,
      max: lofts.at(-1)?.loft_deg,
      name: "loft of the club, °",
      nameLocation: "middle",
      nameGap: 26,
      nameTextStyle: text,
      splitLine: { show: false },
      axisLine: { onZero: false, lineStyle: { color: palette.soft } },
      axisLabel: text,
    },
    yAxis: {
      type: "value",
      min: Math.floor((Math.min(...all) - 2) / 5) * 5,
      max: Math.ceil((Math.max(...all) + 2) / 5) * 5,
      name: words.symbol("distance"),
      nameTextStyle: { ...text, align: "left", padding: [0, 0, 0, -44] },
      splitLine: { lineStyle: { color: palette.hairline } },
      axisLabel: text,
    },
    series: [
      trace(carry, { colour: palette.amberText, width: 3 }),
      trace(total, { colour: palette.teal, width: 2, dash: [6, 5] }),
      ...named(carry, "carry", "bottom", palette.amberText),
      ...named(total, "total", "top", palette.teal),
      {
        type: "scatter",
        silent: true,
        symbol: "rect",
        symbolSize: [5, 18],
        itemStyle: { color: palette.ink },
        data: here
          ? [
              [here.loft_deg, scaled(here.carry)],
              [here.loft_deg, scaled(here.total)],
            ]
          : [],
      },
    ],
  };
}
