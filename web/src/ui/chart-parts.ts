// Pieces that charts share. What has no dots of its own is drawn here rather than by the library's
// line charts and marked areas, which are larger than all of ours.

import type { CustomSeriesRenderItemAPI, CustomSeriesRenderItemParams } from "echarts";
import { LOCALE } from "../app/local";
import type { Palette } from "../app/theme";

export function chartText(palette: Palette) {
  return { color: palette.soft, fontFamily: "Source Sans 3 Variable", fontSize: 14 };
}

/** A number beside an axis, with the minus of the trade's other numbers. */
export function ticked(value: number): string {
  return value.toLocaleString(LOCALE, { maximumFractionDigits: 2 }).replace("-", "−");
}

export function tooltipOf(palette: Palette) {
  return {
    trigger: "item",
    backgroundColor: palette.sheet,
    borderColor: palette.ink,
    borderRadius: 0,
    shadowBlur: 0,
    textStyle: { ...chartText(palette), color: palette.ink },
  };
}

/** One shape for all of the points, which stretch the axes as points of a line would. */
function drawn(
  points: (number | null)[][],
  shape: (at: CustomSeriesRenderItemAPI, box: Box) => object,
) {
  return {
    type: "custom",
    silent: true,
    data: points,
    renderItem: (params: CustomSeriesRenderItemParams, at: CustomSeriesRenderItemAPI) =>
      params.dataIndex === 0 ? shape(at, params.coordSys as unknown as Box) : undefined,
  };
}

interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** A filled outline in the chart's own coordinates. */
export function polygon(points: number[][], colour: string, opacity = 0.13, edge = 0) {
  return drawn(points, (at) => ({
    type: "polygon",
    shape: { points: points.map((point) => at.coord(point)) },
    style: {
      fill: colour,
      fillOpacity: opacity,
      stroke: edge ? colour : undefined,
      strokeOpacity: 1,
      lineWidth: edge,
    },
  }));
}

interface Stroke {
  colour: string;
  width: number;
  dash?: number[];
  opacity?: number;
  /** Whether what lies outside the axes is left out; a line along an axis would be cut in half. */
  clip?: boolean;
}

/** A line through points. */
export function trace(points: number[][], stroke: Stroke) {
  const { colour, width, dash, opacity = 1, clip = false } = stroke;
  const line = drawn(points, (at) => ({
    type: "polyline",
    shape: { points: points.map((point) => at.coord(point)) },
    style: { stroke: colour, lineWidth: width, lineDash: dash, opacity, fill: "none" },
  }));
  return { ...line, clip };
}

/** A strip over the whole height (`x`) or width (`y`), between two values. */
export function strip(
  axis: "x" | "y",
  [from, to]: [number, number],
  colour: string,
  opacity: number,
) {
  const ends =
    axis === "x"
      ? [
          [from, null],
          [to, null],
        ]
      : [
          [null, from],
          [null, to],
        ];
  return drawn(ends, (at, box) => {
    const [a, b] = [from, to].map((v) => at.coord(axis === "x" ? [v, 0] : [0, v]));
    const [x, y] = [a?.[0] ?? 0, b?.[1] ?? 0];
    return {
      type: "rect",
      shape:
        axis === "x"
          ? { x, y: box.y, width: (b?.[0] ?? 0) - x, height: box.height }
          : { x: box.x, y, width: box.width, height: (a?.[1] ?? 0) - y },
      style: { fill: colour, opacity },
    };
  });
}

/** Words at a point. */
export function written(point: number[], formatter: string, label: object) {
  return {
    type: "scatter",
    silent: true,
    symbolSize: 0.01,
    data: [point],
    label: { show: true, formatter, ...label },
  };
}

/** A band between two curves, as an outline. */
export function band(rows: [number, number, number][]): [number, number][] {
  const up = rows.map(([x, , high]): [number, number] => [x, high]);
  const down = rows.map(([x, low]): [number, number] => [x, low]).reverse();
  return [...up, ...down];
}

/** Round ends of a scale around values. */
export function around(values: number[], step: number): [number, number] {
  if (values.length === 0) return [0, step];
  return [
    Math.floor(Math.min(...values) / step) * step,
    Math.ceil(Math.max(...values) / step) * step,
  ];
}

/** The axis along the bottom, named in its middle. */
export function along(name: string, palette: Palette) {
  const text = chartText(palette);
  return {
    type: "value",
    name,
    nameLocation: "middle",
    nameGap: 28,
    nameTextStyle: text,
    splitLine: { show: false },
    axisLine: { lineStyle: { color: palette.soft } },
    axisTick: { show: false },
    axisLabel: { ...text, showMinLabel: false, showMaxLabel: false },
  };
}

/** The axis up the side, named above it. */
export function up(name: string, palette: Palette) {
  const text = chartText(palette);
  return {
    type: "value",
    name,
    nameTextStyle: { ...text, align: "left", padding: [0, 0, 0, -36] },
    splitLine: { lineStyle: { color: palette.hairline } },
    axisLabel: text,
  };
}
