// The first rows of a file as they will be stored, and what is wrong with others.

import type { Quantity, Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { dated } from "../ui/day";
import { Reported } from "../ui/Reported";
import css from "./PreviewTable.module.css";

/** The day of a row, with what stands behind it. */
const DAY = /^\d{4}-\d\d-\d\d/;

interface Props {
  rows: Schemas["PreviewRow"][];
  layout: Schemas["Layout"];
  words: Words;
}

export function PreviewTable({ rows, layout, words }: Props) {
  const quantities = layout.columns.flatMap((use): Quantity[] =>
    use.is === "value" ? [use.quantity] : [],
  );
  if (rows.length === 0) return null;
  return (
    <>
      <h3>As they will be stored</h3>
      <section
        className={`scroll shots ${css.shots} ${css.preview}`}
        aria-label="First rows"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: a wide table must scroll by keyboard
        tabIndex={0}
      >
        <table>
          <thead>
            <tr>
              <th scope="col">Row</th>
              <th scope="col">When</th>
              <th scope="col">Club</th>
              <th scope="col">Block</th>
              {quantities.map((quantity) => (
                <th scope="col" key={quantity}>
                  {words.quantity(quantity).label}
                  <small>{words.symbol(words.quantity(quantity).dimension)}</small>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.row} className={row.set_aside ? css.aside : undefined}>
                <th scope="row">
                  {row.row}
                  {row.set_aside && <small>set aside</small>}
                </th>
                {row.reading ? (
                  <>
                    <td>{row.when?.replace(DAY, (day) => dated(day, true)) ?? "–"}</td>
                    <td>{row.club ? words.club(row.club) : "–"}</td>
                    <td>{row.block ?? "–"}</td>
                    {quantities.map((quantity) => (
                      <td key={quantity}>
                        <Reported
                          quantity={quantity}
                          value={row.reading?.[quantity]}
                          words={words}
                        />
                      </td>
                    ))}
                  </>
                ) : (
                  <td colSpan={3 + quantities.length} className={css.wrongRow}>
                    <Troubles troubles={row.troubles} />
                  </td>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </>
  );
}

export function Troubles({ troubles }: { troubles: Schemas["CellTrouble"][] }) {
  if (troubles.length === 0) return null;
  return (
    <ul className={css.troubles}>
      {troubles.map((t) => (
        <li key={`${t.row} ${t.column}`}>
          Row {t.row}
          {t.column > 0 && `, column ${t.column} (${t.name})`}: {t.value && `“${t.value}” `}
          {t.problem}; {t.remedy}.
        </li>
      ))}
    </ul>
  );
}
