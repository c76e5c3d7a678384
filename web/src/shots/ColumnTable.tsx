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
  { value: "player", label: "player" },
  { value: "number", label: "number of the shot" },
  { value: "block", label: "block" },
  { value: "standing", label: "standing" },
  { value: "left_out", label: "left out: yes or no" },
  { value: "counts", label: "counts: yes or no" },
  { value: "reason", label: "why it was set aside" },
  { value: "our_shot", label: "which shot of ours" },
  { value: "implement", label: "implement swung" },
  { value: "swing_side", label: "side swung from" },
  { value: "position", label: "how the player stood" },
  { value: "effort", label: "effort asked, %" },
] as const;

interface Props {
  looked: Schemas["Looked"];
  change: (layout: Layout) => void;
  words: Words;
}

export function ColumnTable({ looked, change, words }: Props) {
  const { layout } = looked;
  // What a person says of a column is not asked again.
  const put = (index: number, use: ColumnUse, settles: string[] = []) =>
    change({
      ...layout,
      columns: layout.columns.map((was, i) => (i === index ? use : was)),
      settled: [...new Set([...(layout.settled ?? []), ...settles])],
    });
  const pick = (index: number, value: string) => {
    const role = ROLES.find((r) => r.value === value);
    if (role) return put(index, { is: role.value });
    if (value.includes(":")) return;
    const quantity = value as Quantity;
    put(index, { is: "value", quantity, unit: words.suffix(words.quantity(quantity).dimension) });
  };
  return (
    <>
      <Shape looked={looked} change={change} />
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
              const name = looked.names[i] ?? `Column ${i + 1}`;
              const id = `${i} ${name}`;
              return (
                <tr key={id}>
                  <td>{name}</td>
                  <td className="quiet">{looked.samples[i]?.join(" · ")}</td>
                  <td>
                    <Select
                      aria-label={`What ${name} holds`}
                      value={
                        use.is === "value" ? use.quantity : (beside(use, words)[0]?.value ?? use.is)
                      }
                      popupMatchSelectWidth={false}
                      onChange={(value) => pick(i, value)}
                      options={[
                        ...ROLES,
                        ...beside(use, words),
                        ...words.vocabulary.quantities.map((q) => ({
                          value: q.key,
                          label: q.label.toLowerCase(),
                        })),
                      ]}
                    />
                  </td>
                  <td>
                    {toldByRow(layout, use) && <span className="quiet">by the row</span>}
                    {use.is === "value" && !toldByRow(layout, use) && (
                      <Units
                        use={use}
                        words={words}
                        change={(unit) => put(i, { ...use, unit }, unitKeys(words, use.quantity))}
                      />
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

/** Whether another column tells the unit of this one in each row. */
function toldByRow({ columns }: Layout, use: ColumnUse): boolean {
  return use.is === "value" && columns.some((c) => c.is === "units" && c.quantity === use.quantity);
}

/** What a column holds beside a value that stands in another. */
function beside(use: ColumnUse, words: Words): { value: string; label: string }[] {
  if (!("quantity" in use) || use.is === "value") return [];
  const label = words.quantity(use.quantity).label.toLowerCase();
  const told = {
    from: `how ${label} came about`,
    shots: `a block of shots, ${label}`,
    sides: `left or right, ${label}`,
    units: `unit of ${label}`,
  };
  return [{ value: `${use.is}:${use.quantity}`, label: told[use.is] }];
}

/** The question about units that a person answers by choosing one. */
function unitKeys(words: Words, quantity: Quantity): string[] {
  const kinds: Partial<Record<Schemas["Dimension"], string>> = {
    speed: "speeds",
    distance: "distances",
    height: "heights",
    face_offset: "offsets",
    body_weight: "forces",
    force: "forces",
    torque: "torques",
    torque_per_mass: "torques",
  };
  const kind = kinds[words.quantity(quantity).dimension];
  return kind ? [`unit:${kind}`] : [];
}

/** How the file is written: sheets, rows, what stands between cells. */
function Shape({ looked, change }: { looked: Schemas["Looked"]; change: (l: Layout) => void }) {
  const { layout } = looked;
  // Another shape has other columns, which are guessed anew.
  const reshape = (fields: Partial<Layout>) => change({ ...layout, ...fields, columns: [] });
  const { source } = layout;
  return (
    <div className={css.layoutChoices}>
      {source.is === "sheet" && (
        <Select
          aria-label="Sheet"
          value={source.name}
          onChange={(name) => reshape({ source: { is: "sheet", name } })}
          options={looked.sheets.map((name) => ({ value: name, label: `sheet “${name}”` }))}
        />
      )}
      {source.is === "text" && (
        <Select
          aria-label="Between cells"
          value={source.delimiter}
          onChange={(delimiter) => reshape({ source: { ...source, delimiter } })}
          options={[
            { value: ",", label: "commas between cells" },
            { value: ";", label: "semicolons between cells" },
            { value: "\t", label: "tabs between cells" },
            { value: "|", label: "bars between cells" },
          ]}
        />
      )}
      <Select
        aria-label="Row that names the columns"
        value={layout.header_row}
        popupMatchSelectWidth={false}
        onChange={(header_row) => reshape({ header_row, unit_row: false })}
        options={[
          { value: 0, label: "no row names the columns" },
          ...looked.beginning.map(({ row, text }) => ({
            value: row,
            label: `names are in row ${row}: ${text.slice(0, 60)}`,
          })),
        ]}
      />
      <Select
        aria-label="Order of dates"
        value={layout.dates}
        onChange={(dates) =>
          change({
            ...layout,
            dates,
            settled: [...new Set([...(layout.settled ?? []), "dates"])],
          })
        }
        options={[
          { value: "day_first", label: "dates: day first" },
          { value: "month_first", label: "dates: month first" },
          { value: "year_first", label: "dates: year first" },
        ]}
      />
      <Checkbox
        checked={layout.unit_row ?? false}
        onChange={(e) => reshape({ unit_row: e.target.checked })}
      >
        units stand below the names
      </Checkbox>
      <Checkbox
        checked={layout.across ?? false}
        onChange={(e) => reshape({ across: e.target.checked, header_row: 1, unit_row: false })}
      >
        each column is a shot
      </Checkbox>
    </div>
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
