// What each column of a file holds, guessed and put right.

import { Checkbox, Select } from "antd";
import type { Quantity, Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import css from "./ColumnTable.module.css";

type Layout = Schemas["Layout"];
type ColumnUse = Schemas["ColumnUse"];

const ROLES = [
  { value: "unused", label: "not used" },
  { value: "date", label: "date" },
  { value: "time", label: "time of day" },
  { value: "club", label: "club" },
  { value: "block", label: "block" },
  { value: "standing", label: "standing" },
  { value: "implement", label: "implement swung" },
  { value: "swing_side", label: "side swung from" },
  { value: "position", label: "how the player stood" },
  { value: "effort", label: "effort asked, %" },
] as const;

interface Props {
  guess: Schemas["Guess"];
  layout: Layout;
  change: (layout: Layout) => void;
  words: Words;
}

export function ColumnTable({ guess, layout, change, words }: Props) {
  const put = (index: number, use: ColumnUse) =>
    change({ ...layout, columns: layout.columns.map((was, i) => (i === index ? use : was)) });
  const pick = (index: number, value: string) => {
    const role = ROLES.find((r) => r.value === value);
    if (role) return put(index, { is: role.value });
    if (value.startsWith("from:")) return;
    const quantity = value as Quantity;
    put(index, { is: "value", quantity, unit: words.suffix(words.quantity(quantity).dimension) });
  };
  return (
    <>
      <div className={css.layoutChoices}>
        <Select
          aria-label="Between cells"
          value={layout.delimiter}
          onChange={(delimiter) => change({ ...layout, delimiter })}
          options={[
            { value: ",", label: "commas between cells" },
            { value: ";", label: "semicolons between cells" },
            { value: "\t", label: "tabs between cells" },
            { value: "|", label: "bars between cells" },
          ]}
        />
        <Select
          aria-label="Order of dates"
          value={layout.dates}
          onChange={(dates) => change({ ...layout, dates })}
          options={[
            { value: "day_first", label: "dates: day first" },
            { value: "month_first", label: "dates: month first" },
          ]}
        />
        <Checkbox
          checked={layout.header}
          onChange={(e) => change({ ...layout, header: e.target.checked })}
        >
          first row names the columns
        </Checkbox>
        <Checkbox
          checked={layout.decimal_comma}
          onChange={(e) => change({ ...layout, decimal_comma: e.target.checked })}
        >
          comma before decimals
        </Checkbox>
      </div>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a long table must scroll by keyboard */}
      <section className={`scroll ${css.columns}`} aria-label="Columns" tabIndex={0}>
        <table className="plan">
          <thead>
            <tr>
              <th scope="col">Column</th>
              <th scope="col">First cells</th>
              <th scope="col">Holds</th>
              <th scope="col">Unit</th>
            </tr>
          </thead>
          <tbody>
            {layout.columns.map((use, i) => {
              const name = guess.names[i] ?? `Column ${i + 1}`;
              const id = `${i} ${name}`;
              return (
                <tr key={id}>
                  <td>{name}</td>
                  <td className="quiet">{guess.samples[i]?.join(" · ")}</td>
                  <td>
                    <Select
                      aria-label={`What ${name} holds`}
                      value={
                        use.is === "value"
                          ? use.quantity
                          : use.is === "from"
                            ? `from:${use.quantity}`
                            : use.is
                      }
                      popupMatchSelectWidth={false}
                      onChange={(value) => pick(i, value)}
                      options={[
                        ...ROLES,
                        ...(use.is === "from"
                          ? [
                              {
                                value: `from:${use.quantity}`,
                                label: `how ${words.quantity(use.quantity).label.toLowerCase()} came about`,
                              },
                            ]
                          : []),
                        ...words.vocabulary.quantities.map((q) => ({
                          value: q.key,
                          label: q.label.toLowerCase(),
                        })),
                      ]}
                    />
                  </td>
                  <td>
                    {use.is === "value" && (
                      <Units use={use} words={words} change={(unit) => put(i, { ...use, unit })} />
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </section>
    </>
  );
}

interface UnitsProps {
  use: Extract<ColumnUse, { is: "value" }>;
  words: Words;
  change: (unit: string) => void;
}

function Units({ use, words, change }: UnitsProps) {
  const { dimension } = words.quantity(use.quantity);
  const units = words.vocabulary.accepted.filter((unit) => unit.dimension === dimension);
  if (units.length < 2) return <span>{units[0]?.symbol}</span>;
  return (
    <Select
      aria-label={`Unit of ${words.quantity(use.quantity).label.toLowerCase()}`}
      value={use.unit}
      onChange={change}
      options={units.map((unit) => ({ value: unit.suffix, label: unit.symbol }))}
    />
  );
}
