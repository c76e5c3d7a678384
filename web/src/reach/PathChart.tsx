// The ways of the shots to scale, from the side or from above, with bounce and run.

import type { EChartsCoreOption } from "echarts/core";
import { useLayoutEffect, useMemo, useRef, useState } from "react";
import type { Schemas } from "../app/api";
import { type Palette, useTheme } from "../app/theme";
import type { Words } from "../app/vocabulary";
import { Chart, type ChartTable } from "../ui/Chart";
import { chartText, ticked, trace, written } from "../ui/chart-parts";
import { LETTERS, MARKS } from "./marks";

type Flown = Schemas["Flown"] | null | undefined;
type Point = Schemas["PathPoint"];

interface Props {
  shots: Flown[];
  view: "side" | "above";
  words: Words;
}

const MARGIN = { left: 44, right: 28, top: 22, bottom: 28 };

export default function PathChart({ shots, view, words }: Props) {
  const { palette } = useTheme();
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(800);
  useLayoutEffect(() => {
    if (!box.current) return;
    const watch = new ResizeObserver(([seen]) => seen && setWidth(seen.contentRect.width));
    watch.observe(box.current);
    return () => watch.disconnect();
  }, []);
  const drawn = useMemo(
    () => draw(shots, view, words, palette, width),
    [shots, view, words, palette, width],
  );
  const title = view === "side" ? "From the side, to scale" : "From above, to scale";
  return (
    <div ref={box}>
      <Chart
        title={title}
        option={drawn.option}
        height={drawn.height}
        table={tableOf(shots, words)}
      />
    </div>
  );
}

function draw(shots: Flown[], view: Props["view"], words: Words, palette: Palette, width: number) {
  const scaled = (v: number) => words.scaled("distance", v);
  const across = (p: Point) => scaled(view === "side" ? p.height : p.side);
  const flown = shots.flatMap((shot, i) => (shot ? [{ shot, i }] : []));
  const all = flown.flatMap(({ shot }) => [...shot.journey.air_path, ...shot.journey.ground_path]);
  const far = Math.ceil((Math.max(20, ...all.map((p) => scaled(p.along))) * 1.04) / 10) * 10;
  /** Room for the ways on one side of the line, and for the letters beside them. */
  const room = (furthest: number) => Math.max(14, furthest + 7);
  const most =
    view === "side" ? Math.max(24, ...all.map(across)) + 10 : room(Math.max(0, ...all.map(across)));
  const least = view === "side" ? 0 : -room(-Math.min(0, ...all.map(across)));
  const step = (width - MARGIN.left - MARGIN.right) / far;
  const tall = Math.min(view === "side" ? 260 : 240, (most - least) * step);
  const text = chartText(palette);
  const value = (p: Point) => [scaled(p.along), across(p)];
  const series = flown.flatMap(({ shot, i }) => {
    const mark = MARKS[i];
    if (!mark) return [];
    const colour = palette[mark.colour];
    const { air_path, ground_path } = shot.journey;
    const top = air_path.reduce((a, b) => (b.height > a.height ? b : a), air_path[0] as Point);
    const landing = air_path.at(-1) as Point;
    const end = ground_path.at(-1) as Point;
    return [
      trace(air_path.map(value), { colour, width: 2.5, dash: mark.dash }),
      trace(ground_path.map(value), { colour, width: 1.5, dash: mark.dash }),
      {
        type: "scatter",
        silent: true,
        symbol: mark.symbol,
        symbolSize: 10,
        itemStyle: { color: colour },
        data: [value(landing), { value: value(end), symbolSize: 6 }],
      },
      written(value(view === "side" ? top : landing), LETTERS[i] ?? "", {
        position: view === "side" ? "top" : "bottom",
        fontFamily: "Archivo Variable",
        fontSize: 16,
        fontWeight: 700,
        color: colour,
      }),
    ];
  });
  const unit = words.symbol("distance");
  const option: EChartsCoreOption = {
    animation: false,
    grid: { ...MARGIN, height: tall },
    xAxis: {
      type: "value",
      min: 0,
      max: far,
      axisLine: { onZero: false, lineStyle: { color: palette.soft } },
      splitLine: { lineStyle: { color: palette.hairline } },
      axisLabel: {
        ...text,
        showMaxLabel: false,
        formatter: (v: number) => (v === 0 ? `0 ${unit}` : ticked(v)),
      },
    },
    yAxis: {
      type: "value",
      min: least,
      max: most,
      inverse: view === "above",
      interval: 20,
      splitLine: { show: view === "side", lineStyle: { color: palette.hairline } },
      axisTick: { show: view === "side" },
      axisLabel: {
        ...text,
        showMaxLabel: false,
        formatter: (v: number) => (view === "side" ? ticked(v) : ""),
      },
    },
    series: [
      ...series,
      ...(view === "above"
        ? [
            trace(
              [
                [0, 0],
                [far, 0],
              ],
              { colour: palette.soft, width: 1 },
            ),
            ...[-10, 10].map((v) =>
              written([0, v], v > 0 ? "right" : "left", { ...text, position: "left", distance: 6 }),
            ),
          ]
        : []),
    ],
  };
  return { option, height: tall + MARGIN.top + MARGIN.bottom };
}

function tableOf(shots: Flown[], words: Words): ChartTable {
  const unit = words.symbol("distance");
  const number = (v: number) => words.scaled("distance", v).toFixed(1);
  return {
    columns: ["shot", `along, ${unit}`, `right, ${unit}`, `height, ${unit}`],
    rows: shots.flatMap((shot, i) =>
      [...(shot?.journey.air_path ?? []), ...(shot?.journey.ground_path ?? [])].map((p) => [
        LETTERS[i] ?? "",
        number(p.along),
        number(p.side),
        number(p.height),
      ]),
    ),
  };
}
