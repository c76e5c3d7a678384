// What changed, since when, and what it amounts to.

import type { Quantity, Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { signed } from "../ui/signed";
import { TableRoom } from "../ui/TableRoom";
import css from "./RecordTab.module.css";

const SINCE: Record<Schemas["Since"], string> = {
  start: "since the first",
  benchmark: "since the benchmark",
  last_time: "since last time",
};
const KIND: Record<Schemas["ChangeKind"], string> = {
  real_and_worth_it: "real and worth it",
  real_but_small: "real, but small",
  same: "no change that matters",
  not_yet: "not yet to be told",
};

export function Changes({ shown, words }: { shown: Schemas["RecordShown"]; words: Words }) {
  const { progress, beside } = shown;
  if (progress.changes.length === 0)
    return <p className="quiet">Changes are told from the third day on.</p>;
  const row = (
    name: string,
    quantity: Quantity,
    change: Schemas["LevelChange"],
    means?: [number, number],
  ) => {
    const { dimension } = words.quantity(quantity);
    const told = (value: number) => signed(value, dimension, words);
    return (
      <tr key={name}>
        <th scope="row">{name}</th>
        <td>
          <b>{told(change.change.value)}</b>{" "}
          <small>
            {told(change.change.low)} to {told(change.change.high)}
          </small>
        </td>
        <td className={css.amounts}>
          <small>
            {KIND[change.kind]}
            {change.more_check_ins != null &&
              `, about ${change.more_check_ins} more check-in${change.more_check_ins === 1 ? "" : "s"} would tell`}
            {means && ` · ${words.bare(dimension, means[0])} → ${words.show(dimension, means[1])}`}
          </small>
        </td>
      </tr>
    );
  };
  return (
    <TableRoom of="Table">
      <table className="figures">
        <thead>
          <tr>
            <th scope="col">{words.quantity(progress.quantity).label}</th>
            <th scope="col">change of the level</th>
            <th scope="col" className={css.amounts}>
              <span className="sr-only">What it amounts to</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {progress.changes.map((change) => row(SINCE[change.since], progress.quantity, change))}
        </tbody>
        {beside.some((b) => b.change) && (
          <>
            <thead>
              <tr>
                <th scope="col">The same balls, since the first</th>
                <th scope="col">
                  <span className="sr-only">Change</span>
                </th>
                <th scope="col" className={css.amounts}>
                  <span className="sr-only">What it amounts to</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {beside.map(
                (b) =>
                  b.change &&
                  row(
                    words.quantity(b.quantity).label,
                    b.quantity,
                    b.change,
                    b.means as [number, number],
                  ),
              )}
            </tbody>
          </>
        )}
      </table>
    </TableRoom>
  );
}
