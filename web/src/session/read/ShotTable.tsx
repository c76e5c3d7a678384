// Every shot with every value, its provenance, and what it should have carried.

import { memo } from "react";
import type { Quantity } from "../../app/api";
import type { Words } from "../../app/vocabulary";
import { Reported } from "../../ui/Reported";
import { said } from "../../ui/Said";
import { STANDINGS } from "../../ui/words";
import type { SessionRead } from "./queries";
import css from "./ShotTable.module.css";

const COLUMNS: Quantity[] = [
  "club_speed",
  "ball_speed",
  "smash_factor",
  "launch_angle",
  "launch_direction",
  "spin_rate",
  "spin_axis",
  "apex",
  "side",
  "carry",
];

interface Props {
  read: SessionRead;
  words: Words;
  selected: number | undefined;
  onSelect: (index: number) => void;
  onOpen: (index: number) => void;
}

export const ShotTable = memo(function ShotTable({
  read,
  words,
  selected,
  onSelect,
  onOpen,
}: Props) {
  // The session's own numbers stand first.
  const order = [...new Set([...read.session.shown, ...COLUMNS])];
  const columns = order.filter((q) => read.report.summaries.some((s) => s.quantity === q));
  const best = read.report.best_struck;
  return (
    <section className={`shots ${css.shots}`} aria-labelledby="shots">
      <div className={css.shotsHead}>
        <h2 id="shots" className="minor">
          Shots
        </h2>
        {best && (
          <p>
            <b>Best struck: shot {read.shots[best.index]?.number}</b>, {said(best.sentence, words)}
          </p>
        )}
        <p className="quiet">
          at equal speed: as if hit at the mean club speed, with its place · of possible: carry over
          what its club speed could have carried · own line: from this session’s kept shots, with
          its band · plain: measured · ≈ calculated by the device · ✎ entered · – not reported
        </p>
      </div>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a wide table must scroll by keyboard */}
      <section className="scroll" aria-label="Table of shots" tabIndex={0}>
        <table>
          <thead>
            <tr>
              <th scope="col">Shot</th>
              {columns.map((q) => (
                <th scope="col" key={q}>
                  {words.quantity(q).label}
                  <small>{words.symbol(words.quantity(q).dimension)}</small>
                </th>
              ))}
              <th scope="col">
                At equal speed<small>{words.symbol("distance")}</small>
              </th>
              <th scope="col">
                Of possible<small>%</small>
              </th>
              <th scope="col">
                Expected by speed<small>{words.symbol("distance")}</small>
              </th>
              <th scope="col">
                Expected by launch<small>{words.symbol("distance")}</small>
              </th>
              <th scope="col">
                Own line<small>{words.symbol("distance")}</small>
              </th>
              <th scope="col">Useful flight</th>
              <th scope="col">Stands</th>
            </tr>
          </thead>
          <tbody>
            {read.shots.map((shot, i) => (
              <ShotRow
                key={shot.id}
                read={read}
                index={i}
                columns={columns}
                words={words}
                chosen={i === selected}
                onSelect={onSelect}
                onOpen={onOpen}
              />
            ))}
          </tbody>
        </table>
      </section>
    </section>
  );
});

interface RowProps {
  read: SessionRead;
  index: number;
  columns: Quantity[];
  words: Words;
  chosen: boolean;
  onSelect: (index: number) => void;
  onOpen: (index: number) => void;
}

function ShotRow({ read, index, columns, words, chosen, onSelect, onOpen }: RowProps) {
  const shot = read.shots[index];
  const says = read.report.shots[index];
  if (!shot || !says) return null;
  const expected = (e: typeof says.by_launch) =>
    e ? (
      <span title={e.rests_on_calculated ? "rests on a calculated value" : undefined}>
        {e.rests_on_calculated && <i aria-hidden="true">≈</i>}
        {words.bare("distance", e.carry)}
        {e.rests_on_calculated && <span className="sr-only">, rests on a calculated value</span>}
      </span>
    ) : (
      <span className="absent">–</span>
    );
  return (
    <tr
      className={`${says.standing}${chosen ? " chosen" : ""}`}
      onClick={() => onSelect(index)}
      onDoubleClick={() => onOpen(index)}
    >
      <th scope="row">
        <button type="button" className="link" onClick={() => onOpen(index)}>
          {shot.number}
        </button>
      </th>
      {columns.map((q) => (
        <td key={q}>
          <Reported quantity={q} value={shot.reading[q]} words={words} />
        </td>
      ))}
      <td>
        {says.at_equal_speed ? (
          <>
            {words.bare("distance", says.at_equal_speed.distance)}
            <small> {place(says.at_equal_speed.rank)}</small>
          </>
        ) : (
          <span className="absent">–</span>
        )}
      </td>
      <td>
        {says.share == null ? <span className="absent">–</span> : Math.round(says.share * 100)}
      </td>
      <td>{expected(says.by_club_speed)}</td>
      <td>{expected(says.by_launch)}</td>
      <td>
        {says.by_own_line ? (
          <>
            {words.bare("distance", says.by_own_line.carry)}
            <small>
              {" "}
              {words.bare("distance", says.by_own_line.low)}–
              {words.bare("distance", says.by_own_line.high)}
            </small>
          </>
        ) : (
          <span className="absent">–</span>
        )}
      </td>
      <td className="useful" title={says.failed.map(words.failed).join("; ")}>
        {says.failed.length === 0
          ? "✓"
          : says.failed.map((f) => words.check(f.check).label).join(", ")}
      </td>
      <td className={`stands ${css.stands}`}>{STANDINGS[says.standing]}</td>
    </tr>
  );
}

/** "1st", "22nd". */
function place(rank: number): string {
  const tens = rank % 100;
  const ending = tens > 10 && tens < 14 ? "th" : (["th", "st", "nd", "rd"][rank % 10] ?? "th");
  return `${rank}${ending}`;
}
