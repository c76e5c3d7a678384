// The numbers behind the progress strip, to read and to take away.

import type { Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import type { ChartTable } from "../ui/save";
import { otherwise } from "./ProgressStrip";
import css from "./RecordTab.module.css";

export function ProgressTable({
  progress,
  words,
}: {
  progress: Schemas["ProgressRead"];
  words: Words;
}) {
  const { columns: head, rows } = tableOf(progress, words);
  return (
    <div className={`table-room ${css.table}`}>
      <table className="figures">
        <thead>
          <tr>
            {head.map((name) => (
              <th scope="col" key={name}>
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.join()}>
              {row.map((text, i) =>
                i === 0 ? (
                  <th scope="row" key={head[i]}>
                    {text}
                  </th>
                ) : (
                  <td key={head[i]}>{text}</td>
                ),
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** A progress as a table, its numbers in the coach's units. */
export function tableOf(progress: Schemas["ProgressRead"], words: Words): ChartTable {
  const { dimension, label } = words.quantity(progress.quantity);
  const best = progress.days.some((day) => day.best != null);
  const head = [
    "Day",
    "Balls",
    `${label}, average`,
    ...(best ? ["best", `best of ${progress.equal_tries}`] : []),
    "level",
    "",
  ];
  const shown = (value?: number | null) => (value == null ? "–" : words.bare(dimension, value));
  const rows = progress.days.map((day) => [
    day.date,
    String(day.values.length),
    shown(day.mean),
    ...(best ? [shown(day.best), shown(day.best_of_equal)] : []),
    day.level
      ? `${shown(day.level.value)} (${shown(day.level.low)}–${shown(day.level.high)})`
      : "–",
    [...(day.off ? ["off day"] : []), ...otherwise(day)].join(", "),
  ]);
  return { columns: head, rows };
}
