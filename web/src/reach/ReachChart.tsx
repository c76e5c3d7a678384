// Everywhere on the curve the ball goes equally far: less speed, struck better.

import type { EChartsCoreOption } from "echarts/core";
import { useMemo } from "react";
import type { Schemas } from "../app/api";
import { type Palette, useTheme } from "../app/theme";
import type { Words } from "../app/vocabulary";
import { Chart } from "../ui/Chart";
import { chartText, polygon, trace, written } from "../ui/chart-parts";
import { day } from "../ui/day";

interface Props {
  answer: Schemas["ReachAnswered"];
  words: Words;
}

export default function ReachChart({ answer, words }: Props) {
  const { palette } = useTheme();
  const option = useMemo(() => optionOf(answer, words, palette), [answer, words, palette]);
  const unit = words.symbol("speed");
  const percent = (share: number) => (share * 100).toFixed(1);
  const speed = (v: number) => words.bare("speed", v);
  return (
    <Chart
      title="Club speed that goes there, by how well the ball is struck"
      option={option}
      height={320}
      table={{
        columns: ["what", "efficiency, %", `club speed, ${unit}`],
        rows: [
          ...answer.reach.curve.map((p) => [
            "reaches it",
            percent(p.efficiency),
            speed(p.club_speed),
          ]),
          ...answer.reach.sessions.map((s, i) => [
            day(answer.sessions[i]?.started_at ?? "", "UTC"),
            percent(s.efficiency),
            speed(s.club_speed),
          ]),
        ],
      }}
    />
  );
}

function optionOf(
  answer: Schemas["ReachAnswered"],
  words: Words,
  palette: Palette,
): EChartsCoreOption {
  const { curve, levels, sessions } = answer.reach;
  const scaled = (v: number) => words.scaled("speed", v);
  const text = chartText(palette);
  const line = curve.map((p) => [p.efficiency * 100, scaled(p.club_speed)]);
  const days = sessions.map((s) => [s.efficiency * 100, scaled(s.club_speed)]);
  const all = [...line, ...days];
  const [xs, ys] = [all.map((p) => p[0] ?? 0), all.map((p) => p[1] ?? 0)];
  const least = Math.floor((Math.min(...ys) - 3) / 5) * 5;
  const most = Math.ceil((Math.max(...ys) + 2) / 5) * 5;
  return {
    animation: false,
    grid: { left: 52, right: 24, top: 28, bottom: 44 },
    xAxis: {
      type: "value",
      min: Math.floor(Math.min(70, ...xs) / 5) * 5,
      max: Math.max(116, Math.ceil(Math.max(...xs) + 1)),
      name: "efficiency, % of the furthest at that speed",
      nameLocation: "middle",
      nameGap: 26,
      nameTextStyle: text,
      splitLine: { show: false },
      axisLine: { onZero: false, lineStyle: { color: palette.soft } },
      axisLabel: {
        ...text,
        showMaxLabel: false,
        formatter: (v: number) => (v > 100 ? "" : String(v)),
      },
    },
    yAxis: {
      type: "value",
      min: least,
      max: most,
      name: `club speed, ${words.symbol("speed")}`,
      nameTextStyle: { ...text, align: "left", padding: [0, 0, 0, -44] },
      splitLine: { lineStyle: { color: palette.hairline } },
      axisLabel: { ...text, showMinLabel: false },
    },
    series: [
      // Above the line every shot reaches the target.
      polygon([...line, ...line.map(([x = 0]) => [x, most]).reverse()], palette.amber, 0.16),
      trace(line, { colour: palette.ink, width: 2.5 }),
      written([97, most], "goes there and further", {
        ...text,
        position: "bottom",
        distance: 10,
        align: "right",
      }),
      {
        type: "scatter",
        silent: true,
        symbol: "rect",
        symbolSize: [4, 16],
        itemStyle: { color: palette.amber },
        data: levels.map((level) => ({
          value: [level.efficiency * 100, scaled(level.club_speed)],
          label: {
            show: true,
            position: "right",
            distance: 8,
            offset: [-10, -18],
            formatter: level.label.toLowerCase(),
            ...text,
            color: palette.amberText,
            fontWeight: 600,
          },
        })),
      },
      {
        type: "scatter",
        silent: true,
        symbol: "diamond",
        symbolSize: 13,
        itemStyle: { color: palette.teal },
        data: days.map((value, i) => ({
          value,
          symbolSize: i === days.length - 1 ? 17 : 11,
          label: {
            show: i === days.length - 1,
            position: "right",
            distance: 6,
            formatter: day(answer.sessions[i]?.started_at ?? "", "UTC"),
            ...text,
            color: palette.teal,
            fontWeight: 600,
          },
        })),
      },
    ],
  };
}
