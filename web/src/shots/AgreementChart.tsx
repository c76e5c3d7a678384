// Differences of two devices against their means, with bias and limits.

import type { EChartsCoreOption } from "echarts/core";
import type { Schemas } from "../app/api";
import { useTheme } from "../app/theme";
import type { Words } from "../app/vocabulary";
import { Chart } from "../ui/Chart";
import { strip, ticked, trace, written } from "../ui/chart-parts";

interface Props {
  told: Schemas["Agreement"];
  first: string;
  second: string;
  words: Words;
}

export default function AgreementChart({ told, first, second, words }: Props) {
  const { palette } = useTheme();
  const { label, dimension } = words.quantity(told.quantity);
  const unit = words.symbol(dimension);
  const scaled = (si: number) => words.scaled(dimension, si);
  const points = told.pairs.map((pair) => [scaled(pair.mean), scaled(pair.difference)]);
  const xs = points.map(([x]) => x as number);
  const [from, to] = [Math.min(...xs), Math.max(...xs)];
  const pad = (to - from || 1) * 0.06;
  const line = ({ value, low, high }: Schemas["Estimate"], name: string, dashed: boolean) => {
    const colour = dashed ? palette.teal : palette.ink;
    const end = [to + pad, scaled(value)];
    return [
      strip(
        "y",
        [scaled(low), scaled(high)],
        dashed ? palette.teal : palette.amber,
        dashed ? 0.1 : 0.22,
      ),
      trace([[from - pad, scaled(value)], end], {
        colour,
        width: dashed ? 1.5 : 2.5,
        dash: dashed ? [6, 5] : [],
      }),
      written(end, `${name} ${words.bare(dimension, value)}`, {
        position: "right",
        color: colour,
        fontSize: 14,
      }),
    ];
  };
  const option: EChartsCoreOption = {
    animation: false,
    textStyle: { fontFamily: "Source Sans 3 Variable", color: palette.ink, fontSize: 14 },
    grid: { left: 54, right: 96, top: 28, bottom: 46 },
    xAxis: {
      type: "value",
      min: from - pad,
      max: to + pad,
      name: `mean of the two, ${unit}`,
      nameLocation: "middle",
      nameGap: 28,
      nameTextStyle: { color: palette.soft, fontSize: 14 },
      axisLabel: {
        color: palette.soft,
        fontSize: 14,
        showMinLabel: false,
        showMaxLabel: false,
        formatter: ticked,
      },
      axisLine: { lineStyle: { color: palette.soft } },
      splitLine: { show: false },
    },
    yAxis: {
      type: "value",
      scale: true,
      name: `${second} minus ${first}, ${unit}`,
      nameTextStyle: { color: palette.soft, align: "left", fontSize: 14 },
      axisLabel: { color: palette.soft, fontSize: 14, formatter: ticked },
      splitLine: { lineStyle: { color: palette.hairline } },
    },
    series: [
      ...line(told.upper, "upper", true),
      ...line(told.bias, "bias", false),
      ...line(told.lower, "lower", true),
      {
        type: "scatter",
        data: points,
        symbol: "diamond",
        symbolSize: 10,
        itemStyle: { color: palette.ink },
      },
    ],
  };
  return (
    <Chart
      title={`${label}: ${second} against ${first}`}
      option={option}
      table={{
        columns: [`Mean, ${unit}`, `${second} minus ${first}, ${unit}`],
        rows: told.pairs.map((pair) => [
          words.bare(dimension, pair.mean),
          words.bare(dimension, pair.difference),
        ]),
      }}
      height={340}
    />
  );
}
