// Distance over launch and spin: contour lines, the region worth hitting, what can
// be delivered, and the shots.

import type { EChartsCoreOption } from "echarts/core";
import { useMemo } from "react";
import type { Schemas } from "../app/api";
import { type Palette, useTheme } from "../app/theme";
import type { Words } from "../app/vocabulary";
import { Chart, type ChartTable } from "./Chart";
import { chartText, polygon, tooltipOf, trace } from "./chart-parts";

export interface MapShot {
  number: number;
  launch: number;
  spin: number;
  standing: Schemas["Standing"];
  place: string;
  calculated: boolean;
}

interface Props {
  title: string;
  map: Schemas["Map"];
  deliverable: number[][];
  best: { launch_angle_deg: number; spin_rate_rpm: number };
  shots: MapShot[];
  words: Words;
  height: number;
  selected?: number;
  onPick?: (shot: number) => void;
}

export default function MapChart(props: Props) {
  const { title, map, deliverable, best, shots, words, height, selected, onPick } = props;
  const { palette } = useTheme();
  const option = useMemo(
    () => optionOf({ map, deliverable, best, shots, words, palette, selected }),
    [map, deliverable, best, shots, words, palette, selected],
  );
  const table: ChartTable = shots.length
    ? {
        columns: ["shot", "launch angle, °", "spin rate, rpm", "lies", "stands", "spin was"],
        rows: shots.map((s) => [
          s.number,
          s.launch.toFixed(1),
          Math.round(s.spin),
          s.place,
          s.standing.replace("_", " "),
          s.calculated ? "calculated" : "measured",
        ]),
      }
    : {
        columns: [`distance, ${words.symbol("distance")}`, "launch angle, °", "spin rate, rpm"],
        rows: map.levels.flatMap((level) =>
          level.lines.flatMap((line) =>
            line.map(([l = 0, s = 0]) => [
              words.bare("distance", level.distance),
              l.toFixed(2),
              Math.round(s),
            ]),
          ),
        ),
      };
  return (
    <Chart
      title={title}
      option={option}
      table={table}
      height={height}
      onPick={(i) => onPick?.(shots[i]?.number ?? 0)}
    />
  );
}

const CROSS = "path://M-4,-4L4,4M-4,4L4,-4";

const crossed = (palette: Palette) => ({
  color: palette.soft,
  borderColor: palette.soft,
  borderWidth: 1.5,
});

type Drawn = Pick<Props, "map" | "deliverable" | "best" | "shots" | "words" | "selected"> & {
  palette: Palette;
};

function optionOf({ map, deliverable, best, shots, words, palette, selected }: Drawn) {
  const text = chartText(palette);
  const unit = words.symbol("distance");
  /** Whether a label there would hide the mark of the best. */
  const hides = ([launch = 0, spin = 0]: number[]) => {
    const share = (d: number, range: Schemas["Range"]) => Math.abs(d) / (range.to - range.from);
    return (
      share(launch - best.launch_angle_deg, map.launch_angle_deg) < 0.07 &&
      share(spin - best.spin_rate_rpm, map.spin_rate_rpm) < 0.05
    );
  };
  const labels = map.levels.flatMap((level) => {
    const longest = level.lines.reduce<number[][]>((a, b) => (b.length > a.length ? b : a), []);
    const at = longest[Math.floor(longest.length / 2)];
    return at && longest.length > 6 && !hides(at) ? [{ at, distance: level.distance }] : [];
  });
  const top = labels.at(-1)?.distance;
  const option: EChartsCoreOption = {
    animation: false,
    grid: { left: 62, right: 20, top: 28, bottom: 44 },
    tooltip: shots.length
      ? {
          ...tooltipOf(palette),
          formatter: (item: { seriesId?: string; dataIndex: number }) =>
            item.seriesId === "shots" ? tip(shots[item.dataIndex], words) : "",
        }
      : undefined,
    xAxis: {
      type: "value",
      min: map.launch_angle_deg.from,
      max: map.launch_angle_deg.to,
      name: "launch angle, °",
      nameLocation: "middle",
      nameGap: 26,
      nameTextStyle: text,
      splitLine: { show: false },
      axisLine: { onZero: false, lineStyle: { color: palette.soft } },
      axisLabel: { ...text, showMinLabel: false, showMaxLabel: false },
    },
    yAxis: {
      type: "value",
      min: map.spin_rate_rpm.from,
      max: map.spin_rate_rpm.to,
      name: "spin rate, rpm",
      nameTextStyle: { ...text, align: "left", padding: [0, 0, 0, -50] },
      splitLine: { show: false },
      axisLine: { show: true, onZero: false, lineStyle: { color: palette.soft } },
      axisLabel: { ...text, showMinLabel: false, showMaxLabel: false },
    },
    series: [
      ...map.region.map((ring) => ({ ...polygon(ring, palette.amber, 0.34), clip: true })),
      ...map.levels.flatMap((level) =>
        level.lines.map((line) =>
          trace(line, { colour: palette.soft, width: 1, opacity: 0.65, clip: true }),
        ),
      ),
      trace(deliverable, { colour: palette.teal, width: 1.5, dash: [6, 4], clip: true }),
      {
        type: "scatter",
        silent: true,
        symbolSize: 0.01,
        data: labels.map(({ at, distance }) => ({
          value: at,
          label: {
            show: true,
            position: "inside",
            formatter: `${words.bare("distance", distance)}${distance === top ? ` ${unit}` : ""}`,
            ...text,
            fontSize: 13,
            backgroundColor: palette.paper,
            padding: [1, 3],
          },
        })),
      },
      {
        id: "shots",
        type: "scatter",
        symbolSize: 10,
        data: shots.map((shot) => ({
          value: [shot.launch, shot.spin],
          // A spin that was only worked out is a cross in the back: no place to go by.
          symbol: shot.calculated ? CROSS : shot.standing === "doubtful" ? "diamond" : "circle",
          symbolSize: shot.number === selected ? 15 : shot.calculated ? 7 : 10,
          itemStyle:
            shot.calculated && shot.number !== selected
              ? crossed(palette)
              : {
                  color: shot.standing === "kept" ? palette.ink : "transparent",
                  borderColor:
                    shot.number === selected
                      ? palette.amber
                      : shot.standing === "doubtful"
                        ? palette.plum
                        : palette.ink,
                  borderWidth: shot.number === selected ? 3 : shot.standing === "kept" ? 0 : 1.5,
                },
        })),
      },
      {
        type: "scatter",
        silent: true,
        z: 5,
        symbol: "path://M0,-10V10M-10,0H10",
        symbolSize: 18,
        itemStyle: { color: palette.amberText, borderColor: palette.amberText, borderWidth: 2.5 },
        data: [[best.launch_angle_deg, best.spin_rate_rpm]],
      },
    ],
  };
  return option;
}

function tip(shot: MapShot | undefined, words: Words): string {
  if (!shot) return "";
  const launch = words.show("angle", shot.launch);
  const spin = words.show("spin", shot.spin);
  const made = shot.calculated ? " (calculated)" : "";
  return `Shot ${shot.number}, ${shot.place}: ${launch}, ${spin}${made}`;
}
