// Each shot's carry beside what its club speed should have given.

import type { CustomSeriesRenderItemAPI } from "echarts";
import type { EChartsCoreOption } from "echarts/core";
import { memo, useMemo } from "react";
import type { Schemas } from "../../app/api";
import { type Palette, useTheme } from "../../app/theme";
import type { Words } from "../../app/vocabulary";
import { Chart, type ChartTable } from "../../ui/Chart";
import { chartText, strip, tooltipOf, written } from "../../ui/chart-parts";
import { STANDINGS } from "../../ui/words";
import type { SessionRead } from "./queries";

interface Point {
  index: number;
  number: number;
  standing: Schemas["Standing"];
  carry: number;
  expected?: number;
  /** Where one more shot at this speed is expected, by the player's own line. */
  band?: [number, number];
}

interface Props {
  read: SessionRead;
  words: Words;
  /** Whether all balls are of one kind, so that their mean says something. */
  alike: boolean;
  selected: number | undefined;
  onSelect: (index: number) => void;
}

function CarryChart({ read, words, alike, selected, onSelect }: Props) {
  const { palette } = useTheme();
  const points = useMemo(() => pointsOf(read, words), [read, words]);
  const option = useMemo(
    () => optionOf(points, alike ? read.report.carry : {}, words, palette, selected),
    [points, alike, read, words, palette, selected],
  );
  const unit = words.symbol("distance");
  const table: ChartTable = {
    columns: [
      "shot",
      `carry, ${unit}`,
      `expected by club speed, ${unit}`,
      `own line from, ${unit}`,
      `own line to, ${unit}`,
      "stands",
    ],
    rows: points.map((p) => [
      p.number,
      p.carry.toFixed(1),
      p.expected?.toFixed(1) ?? "",
      p.band?.[0].toFixed(1) ?? "",
      p.band?.[1].toFixed(1) ?? "",
      STANDINGS[p.standing],
    ]),
  };
  return (
    <Chart
      title="Carry (dots), expected by club speed (bars), own line (bands)"
      option={option}
      table={table}
      height={292}
      onPick={(i) => {
        const point = points[i];
        if (point) onSelect(point.index);
      }}
    />
  );
}

function pointsOf(read: SessionRead, words: Words): Point[] {
  return read.shots.flatMap((shot, index) => {
    const says = read.report.shots[index];
    const carry = shot.reading.carry?.si;
    if (!says || carry === undefined) return [];
    const expected = says.by_club_speed?.carry;
    const own = says.by_own_line;
    return {
      index,
      number: shot.number,
      standing: says.standing,
      carry: words.scaled("distance", carry),
      expected: expected === undefined ? undefined : words.scaled("distance", expected),
      band: own
        ? [words.scaled("distance", own.low), words.scaled("distance", own.high)]
        : undefined,
    };
  });
}

function optionOf(
  points: Point[],
  { actual, by_club_speed }: Partial<Schemas["CarryRead"]>,
  words: Words,
  palette: Palette,
  selected: number | undefined,
): EChartsCoreOption {
  const unit = words.symbol("distance");
  const text = chartText(palette);
  const values = points.flatMap((p) => [p.carry, p.expected ?? p.carry, ...(p.band ?? [])]);
  const least = Math.floor((Math.min(...values) - 4) / 10) * 10;
  const most = Math.ceil((Math.max(...values) + 4) / 10) * 10;
  const last = points.at(-1)?.number ?? 1;
  const mean = (summary: Schemas["Summary"] | null | undefined) =>
    summary ? words.scaled("distance", summary.mean) : undefined;
  const bare = (summary: Schemas["Summary"] | null | undefined) =>
    summary ? words.bare("distance", summary.mean) : "";
  const labels = apart(mean(by_club_speed), mean(actual), (most - least) / 14, [
    `expected ${bare(by_club_speed)}`,
    `carried ${bare(actual)}`,
  ]);
  const { low, high } = actual?.interval ?? {};
  return {
    animation: false,
    grid: { left: 44, right: 118, top: 26, bottom: 44 },
    tooltip: {
      ...tooltipOf(palette),
      formatter: (item: { dataIndex: number }) => tooltip(points[item.dataIndex], words),
    },
    xAxis: {
      type: "value",
      min: 0.4,
      max: last + 0.6,
      minInterval: 1,
      name: "shot",
      nameLocation: "middle",
      nameGap: 26,
      nameTextStyle: text,
      splitLine: { show: false },
      axisLine: { lineStyle: { color: palette.soft } },
      axisTick: { show: false },
      axisLabel: { ...text, showMinLabel: false, showMaxLabel: false },
    },
    yAxis: {
      type: "value",
      min: least,
      max: most,
      name: `carry, ${unit}`,
      nameTextStyle: { ...text, align: "left", padding: [0, 0, 0, -36] },
      splitLine: { lineStyle: { color: palette.hairline } },
      axisLabel: { ...text, showMinLabel: false },
    },
    series: [
      ...(low !== undefined && high !== undefined
        ? [
            strip(
              "y",
              [words.scaled("distance", low), words.scaled("distance", high)],
              palette.ink,
              0.08,
            ),
          ]
        : []),
      // The band of the player's own line, at each shot's speed.
      {
        type: "custom",
        silent: true,
        data: points.flatMap((p) => (p.band ? [[p.number, ...p.band]] : [])),
        renderItem: (_: unknown, at: CustomSeriesRenderItemAPI) => {
          const [x = 0, low = 0] = at.coord([at.value(0), at.value(1)]);
          const [, high = 0] = at.coord([at.value(0), at.value(2)]);
          return {
            type: "rect",
            shape: { x: x - 5, y: high, width: 10, height: low - high },
            style: { fill: palette.teal, opacity: 0.13 },
          };
        },
      },
      {
        type: "custom",
        silent: true,
        data: points.map((p) => [p.number, p.carry, p.expected ?? p.carry]),
        renderItem: (_: unknown, at: CustomSeriesRenderItemAPI) => {
          const from = at.coord([at.value(0), at.value(1)]);
          const to = at.coord([at.value(0), at.value(2)]);
          return {
            type: "line",
            shape: { x1: from[0], y1: from[1], x2: to[0], y2: to[1] },
            style: { stroke: palette.hairline, lineWidth: 1.5 },
          };
        },
      },
      {
        type: "scatter",
        symbol: "rect",
        symbolSize: [14, 4],
        itemStyle: { color: palette.amber },
        data: points.map((p) => [p.number, p.expected ?? null]),
      },
      {
        type: "scatter",
        symbolSize: 10,
        data: points.map((p) => ({
          value: [p.number, p.carry],
          itemStyle: dot(p, palette, p.index === selected),
          symbolSize: p.index === selected ? 14 : 10,
        })),
      },
      // Direct labels at the right edge, each at the height of its mean.
      ...labels.map(({ y, label, colour }) =>
        written([last + 0.6, y], label, {
          ...text,
          position: "right",
          distance: 8,
          color: palette[colour],
          fontWeight: 700,
        }),
      ),
    ],
  };
}

interface EdgeLabel {
  y: number;
  label: string;
  colour: "amberText" | "ink";
}

/** The two means' labels, moved apart where they would touch. */
function apart(
  expected: number | undefined,
  actual: number | undefined,
  room: number,
  said: [string, string],
): EdgeLabel[] {
  const labels: EdgeLabel[] = [];
  let [e, a] = [expected, actual];
  if (e !== undefined && a !== undefined && Math.abs(e - a) < room) {
    const middle = (e + a) / 2;
    const up = e >= a ? 1 : -1;
    e = middle + (up * room) / 2;
    a = middle - (up * room) / 2;
  }
  if (e !== undefined && expected !== undefined)
    labels.push({ y: e, label: said[0], colour: "amberText" });
  if (a !== undefined && actual !== undefined) labels.push({ y: a, label: said[1], colour: "ink" });
  return labels;
}

function dot(point: Point, palette: Palette, chosen: boolean) {
  const edge = chosen ? palette.amber : undefined;
  switch (point.standing) {
    case "kept":
      return { color: palette.ink, borderColor: edge, borderWidth: chosen ? 3 : 0 };
    case "set_aside":
      return { color: "transparent", borderColor: edge ?? palette.ink, borderWidth: 1.5 };
    case "doubtful":
      return {
        color: "transparent",
        borderColor: edge ?? palette.plum,
        borderWidth: 2,
        borderType: "dotted",
      };
  }
}

function tooltip(point: Point | undefined, words: Words): string {
  if (!point) return "";
  const unit = words.symbol("distance");
  const expected = point.expected === undefined ? "" : `, expected ${Math.round(point.expected)}`;
  return `Shot ${point.number}, ${STANDINGS[point.standing]}: ${Math.round(point.carry)} ${unit}${expected}`;
}

export default memo(CarryChart);
