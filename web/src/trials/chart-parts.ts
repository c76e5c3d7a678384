// Pieces that Decide's charts share.

import type { CustomSeriesRenderItemAPI, CustomSeriesRenderItemParams } from "echarts";
import type { Palette } from "../app/theme";

export function chartText(palette: Palette) {
  return { color: palette.soft, fontFamily: "Source Sans 3 Variable", fontSize: 14 };
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

/** A filled outline in the chart's own coordinates. */
export function polygon(points: [number, number][], colour: string, edge = true, more = {}) {
  return {
    type: "custom",
    silent: true,
    data: points.length > 0 ? [0] : [],
    renderItem: (_: CustomSeriesRenderItemParams, at: CustomSeriesRenderItemAPI) => ({
      type: "polygon",
      shape: { points: points.map((point) => at.coord(point)) },
      style: {
        fill: colour,
        fillOpacity: 0.13,
        stroke: edge ? colour : undefined,
        strokeOpacity: 1,
        lineWidth: edge ? 2 : 0,
      },
    }),
    ...more,
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
