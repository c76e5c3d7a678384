// A chart with its table, its picture and its numbers to take away.

import { CustomChart, ScatterChart } from "echarts/charts";
import { GridComponent, TooltipComponent } from "echarts/components";
import { type ECharts, type EChartsCoreOption, init, use as register } from "echarts/core";
import { SVGRenderer } from "echarts/renderers";
import { useEffect, useRef, useState } from "react";
import css from "./Chart.module.css";
import { type ChartTable, saveCsv, savePng } from "./save";
import { TableRoom } from "./TableRoom";

export type { ChartTable };

register([ScatterChart, CustomChart, GridComponent, TooltipComponent, SVGRenderer]);

interface Props {
  /** What the chart shows, for screen readers and file names. */
  title: string;
  option: EChartsCoreOption;
  table: ChartTable;
  height: number;
  onPick?: (dataIndex: number) => void;
}

export function Chart({ title, option, table, height, onPick }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const chart = useRef<ECharts>(undefined);
  const picked = useRef(onPick);
  picked.current = onPick;
  const [asTable, setAsTable] = useState(false);

  useEffect(() => {
    if (!box.current || asTable) return;
    const drawn = init(box.current, undefined, { renderer: "svg" });
    drawn.on("click", (event) => picked.current?.(event.dataIndex));
    const watch = new ResizeObserver(() => drawn.resize());
    watch.observe(box.current);
    chart.current = drawn;
    return () => {
      watch.disconnect();
      drawn.dispose();
      chart.current = undefined;
    };
  }, [asTable]);
  useEffect(() => {
    if (!asTable) chart.current?.setOption(option, { notMerge: true });
  }, [option, asTable]);

  const svg = () => box.current?.querySelector("svg");
  return (
    <figure className={css.chart}>
      <figcaption>
        <span>{title}</span>
        <span className={css.chartActs}>
          <button type="button" className="plain" onClick={() => setAsTable(!asTable)}>
            {asTable ? "Picture" : "Table"}
          </button>
          <button
            type="button"
            className="plain"
            disabled={asTable}
            onClick={() => svg() && savePng(svg() as SVGSVGElement, title)}
          >
            PNG
          </button>
          <button type="button" className="plain" onClick={() => saveCsv(table, title)}>
            CSV
          </button>
        </span>
      </figcaption>
      {asTable ? (
        <section
          className={`scroll ${css.chartTable}`}
          style={{ height }}
          aria-label={title}
          // biome-ignore lint/a11y/noNoninteractiveTabindex: a long table must scroll by keyboard
          tabIndex={0}
        >
          <TableRoom of="The numbers of this chart">
            <table>
              <thead>
                <tr>
                  {table.columns.map((c) => (
                    <th scope="col" key={c}>
                      {c}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {table.rows.map((row) => (
                  <tr key={row.join()}>
                    {row.map((cell, i) => (
                      <td key={table.columns[i]}>{cell}</td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </TableRoom>
        </section>
      ) : (
        <div
          ref={box}
          style={{ height }}
          role="img"
          aria-label={`${title}. Table shows the same.`}
        />
      )}
    </figure>
  );
}
