// Where the balls of each set land, seen from above and to scale.

import type { EChartsCoreOption } from "echarts/core";
import { useLayoutEffect, useMemo, useRef, useState } from "react";
import type { Schemas } from "../app/api";
import { type Palette, useTheme } from "../app/theme";
import type { Words } from "../app/vocabulary";
import { Chart, type ChartTable } from "../ui/Chart";
import { chartText, polygon, strip, tooltipOf, trace, written } from "../ui/chart-parts";
import { voice } from "./voices";

const HEIGHT = 360;
const EDGE = { left: 52, right: 20, top: 30, bottom: 44 };

interface Props {
  sets: Schemas["SetRead"][];
  fairwayWidth: number;
  words: Words;
}

export default function PatternChart({ sets, fairwayWidth, words }: Props) {
  const { palette } = useTheme();
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(560);
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const watch = new ResizeObserver(() => setWidth(element.clientWidth));
    watch.observe(element);
    return () => watch.disconnect();
  }, []);
  const option = useMemo(
    () => optionOf(sets, fairwayWidth, words, palette, width),
    [sets, fairwayWidth, words, palette, width],
  );
  const unit = words.symbol("distance");
  const table: ChartTable = {
    columns: ["set", `right of the line, ${unit}`, `carry, ${unit}`],
    rows: sets.flatMap((set) =>
      set.landings.map(([side = 0, carry = 0]) => [
        set.label,
        words.scaled("distance", side).toFixed(1),
        words.scaled("distance", carry).toFixed(1),
      ]),
    ),
  };
  return (
    <div ref={box}>
      <Chart
        title="Where the balls land, from above, to scale"
        option={option}
        table={table}
        height={HEIGHT}
      />
    </div>
  );
}

function outline(pattern: Schemas["Pattern"], words: Words): [number, number][] {
  const { ellipse, middle } = pattern;
  if (!ellipse) return [];
  const turn = (ellipse.turned_deg * Math.PI) / 180;
  return Array.from({ length: 73 }, (_, i) => {
    const angle = (i / 72) * 2 * Math.PI;
    const [along, across] = [ellipse.long * Math.cos(angle), ellipse.short * Math.sin(angle)];
    const side = (middle[0] ?? 0) + along * Math.sin(turn) + across * Math.cos(turn);
    const carry = (middle[1] ?? 0) + along * Math.cos(turn) - across * Math.sin(turn);
    return [words.scaled("distance", side), words.scaled("distance", carry)];
  });
}

function optionOf(
  sets: Schemas["SetRead"][],
  fairwayWidth: number,
  words: Words,
  palette: Palette,
  width: number,
): EChartsCoreOption {
  const text = chartText(palette);
  const unit = words.symbol("distance");
  const outlines = sets.map((set) => (set.pattern ? outline(set.pattern, words) : []));
  const points = sets.map((set) =>
    set.landings.map(([side = 0, carry = 0]) => [
      words.scaled("distance", side),
      words.scaled("distance", carry),
    ]),
  );
  const all = [...outlines.flat(), ...points.flat()];
  const half = words.scaled("distance", fairwayWidth) / 2;
  const sides = [...all.map(([x = 0]) => x), -half, half];
  const carries = all.map(([, y = 0]) => y);
  const [left, right] = [Math.min(...sides), Math.max(...sides)];
  const [short, long] = carries.length ? [Math.min(...carries), Math.max(...carries)] : [0, 100];
  // The same number of pixels for a yard both ways.
  const inner = { x: width - EDGE.left - EDGE.right, y: HEIGHT - EDGE.top - EDGE.bottom };
  const scale = Math.max(((right - left) * 1.08) / inner.x, ((long - short) * 1.12) / inner.y);
  const [midX, midY] = [(left + right) / 2, (short + long) / 2];
  const reach = { x: (scale * inner.x) / 2, y: (scale * inner.y) / 2 };
  return {
    animation: false,
    grid: EDGE,
    tooltip: tooltipOf(palette),
    xAxis: {
      type: "value",
      min: midX - reach.x,
      max: midX + reach.x,
      name: `left and right of the line, ${unit}`,
      nameLocation: "middle",
      nameGap: 28,
      nameTextStyle: text,
      splitLine: { show: false },
      axisLine: { show: false, onZero: false },
      axisTick: { show: false },
      axisLabel: {
        ...text,
        showMinLabel: false,
        showMaxLabel: false,
        formatter: (v: number) => String(Math.abs(Math.round(v))),
      },
    },
    yAxis: {
      type: "value",
      min: midY - reach.y,
      max: midY + reach.y,
      name: `carry, ${unit}`,
      nameTextStyle: { ...text, align: "left", padding: [0, 0, 0, -40] },
      splitLine: { lineStyle: { color: palette.hairline } },
      axisLine: { show: false, onZero: false },
      axisTick: { show: false },
      axisLabel: {
        ...text,
        showMinLabel: false,
        showMaxLabel: false,
        formatter: (v: number) => String(Math.round(v)),
      },
    },
    series: [
      strip("x", [-half, half], palette.ink, 0.05),
      written([0, midY - reach.y], `fairway ${words.show("distance", fairwayWidth)}`, {
        ...text,
        position: "top",
      }),
      trace(
        [
          [0, midY - reach.y],
          [0, midY + reach.y],
        ],
        { colour: palette.soft, width: 1.5, dash: [2, 3] },
      ),
      ...outlines.map((shape, i) => polygon(shape, voice(i, palette).colour, 0.13, 2)),
      ...points.map((data, i) => {
        const { symbol, colour, sign } = voice(i, palette);
        const set = sets[i];
        return {
          type: "scatter",
          symbol,
          symbolSize: symbol === "diamond" ? 13 : 11,
          itemStyle: { color: colour },
          data,
          tooltip: {
            formatter: ({ value }: { value: [number, number] }) =>
              `${sign} ${set?.label}: ${Math.round(value[1])} ${unit}, ${Math.abs(Math.round(value[0]))} ${value[0] < 0 ? "left" : "right"}`,
          },
        };
      }),
    ],
  };
}
