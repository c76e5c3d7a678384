// A chart with its table, its picture and its numbers to take away.

import { CustomChart, LineChart, LinesChart, ScatterChart } from "echarts/charts";
import { GridComponent, MarkAreaComponent, TooltipComponent } from "echarts/components";
import { type ECharts, type EChartsCoreOption, init, use as register } from "echarts/core";
import { SVGRenderer } from "echarts/renderers";
import { useEffect, useRef, useState } from "react";
import css from "./Chart.module.css";

register([
  LineChart,
  LinesChart,
  ScatterChart,
  CustomChart,
  GridComponent,
  MarkAreaComponent,
  TooltipComponent,
  SVGRenderer,
]);

export interface ChartTable {
  columns: string[];
  rows: (string | number)[][];
}

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

function save(href: string, name: string) {
  const link = document.createElement("a");
  link.href = href;
  link.download = name;
  link.click();
}

function fileName(title: string, ending: string): string {
  return `${title.toLowerCase().replace(/[^a-z0-9]+/g, "-")}.${ending}`;
}

function saveCsv(table: ChartTable, title: string) {
  const quoted = (cell: string | number) => `"${String(cell).replaceAll('"', '""')}"`;
  const lines = [table.columns, ...table.rows].map((row) => row.map(quoted).join(","));
  const url = URL.createObjectURL(new Blob([`${lines.join("\r\n")}\r\n`], { type: "text/csv" }));
  save(url, fileName(title, "csv"));
  URL.revokeObjectURL(url);
}

function savePng(svg: SVGSVGElement, title: string) {
  const { width, height } = svg.getBoundingClientRect();
  const text = new XMLSerializer().serializeToString(svg);
  const picture = new Image();
  picture.onload = () => {
    const canvas = document.createElement("canvas");
    canvas.width = width * 2;
    canvas.height = height * 2;
    const pen = canvas.getContext("2d");
    if (!pen) return;
    pen.scale(2, 2);
    pen.fillStyle = getComputedStyle(document.body).backgroundColor;
    pen.fillRect(0, 0, width, height);
    pen.drawImage(picture, 0, 0, width, height);
    save(canvas.toDataURL("image/png"), fileName(title, "png"));
  };
  picture.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(text)}`;
}
