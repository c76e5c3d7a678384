// One shot, whole: its values, doubts, strike, and what the coach did with it.

import { Button, Drawer } from "antd";
import type { Quantity, Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { clock, day } from "../ui/day";
import { said } from "../ui/Said";
import type { Act, SessionRead } from "./queries";
import { Reported } from "./Reported";
import { PROVENANCE, REASONS, STANDINGS } from "./words";

const MARK_WORDS: Record<string, string> = {
  set_aside: "Set aside",
  keep: "Kept",
  withdraw: "Decision taken back",
  strike: "Strike marked",
};

interface Props {
  read: SessionRead;
  words: Words;
  index: number | undefined;
  close: () => void;
  setAside: (index: number) => void;
  mark: (shot: string, act: Act) => void;
}

export function ShotSheet({ read, words, index, close, setAside, mark }: Props) {
  const shot = index === undefined ? undefined : read.shots[index];
  const says = index === undefined ? undefined : read.report.shots[index];
  const { session } = read;
  return (
    <Drawer
      destroyOnHidden
      open={shot !== undefined}
      onClose={close}
      title={shot && says ? `Shot ${shot.number}, ${STANDINGS[says.standing]}` : ""}
      size={460}
    >
      {shot && says && index !== undefined && (
        <div className="sheet">
          <p className="quiet">
            {clock(shot.hit_at, session.zone)} · {shot.device}
          </p>
          {says.doubts.map((doubt) => (
            <p key={doubt.quantity} className="doubt">
              {said(doubt.reason, words)}
            </p>
          ))}
          <div className="sheet-acts">
            <Button onClick={() => setAside(index)}>Set aside</Button>
            <Button onClick={() => mark(shot.id, { kind: "keep" })}>Keep</Button>
            <Button onClick={() => mark(shot.id, { kind: "withdraw" })}>Take back</Button>
          </div>
          <table className="figures">
            <tbody>
              {words.vocabulary.quantities.map(({ key, label }) => {
                const value = shot.reading[key];
                if (!value) return null;
                return (
                  <tr key={key}>
                    <th scope="row">{label}</th>
                    <td>
                      <Reported quantity={key as Quantity} value={value} words={words} unit />
                    </td>
                    <td className="second" aria-hidden="true">
                      {PROVENANCE[value.from]}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
          <h3>What it should have carried</h3>
          <Expected says={says} words={words} />
          <h3>Strike</h3>
          <Face
            cell={shot.strike ?? undefined}
            leftHanded={session.left_handed}
            choose={(cell) => mark(shot.id, { kind: "strike", cell })}
          />
          <h3>Record</h3>
          {shot.marks.length === 0 ? (
            <p className="quiet">Nothing was changed.</p>
          ) : (
            <ol className="record">
              {shot.marks.map((m) => (
                <li key={m.id}>
                  {MARK_WORDS[m.kind]}
                  {m.reason && `: ${REASONS.find((r) => r.key === m.reason)?.label.toLowerCase()}`}
                  {m.note && `, “${m.note}”`}
                  {m.strike && ` ${m.strike}`}
                  <small>
                    {day(m.made_at, session.zone)}, {clock(m.made_at, session.zone)}
                  </small>
                </li>
              ))}
            </ol>
          )}
        </div>
      )}
    </Drawer>
  );
}

/** The three schools, what is unclaimed, and what keeps it from being useful. */
function Expected({ says, words }: { says: Schemas["ShotRead"]; words: Words }) {
  const { by_club_speed, by_launch, by_own_line, unclaimed, failed } = says;
  const rows: [string, string][] = [];
  const yards = (m: number) => words.show("distance", m);
  if (by_club_speed) rows.push(["By club speed", yards(by_club_speed.carry)]);
  if (by_launch)
    rows.push([
      `By launch and spin${by_launch.rests_on_calculated ? ", rests on a calculated value" : ""}`,
      yards(by_launch.carry),
    ]);
  if (by_own_line) {
    const { carry, low, high } = by_own_line;
    const band = `${words.bare("distance", low)} to ${words.bare("distance", high)}`;
    rows.push(["By the player’s own line", `${yards(carry)}, ${band}`]);
  }
  for (const share of unclaimed?.shares ?? [])
    rows.push([`Unclaimed: ${share.label.toLowerCase()}`, yards(share.carry)]);
  return (
    <>
      {failed.map((f) => (
        <p key={f.check} className="doubt">
          Not a useful flight, {said(f.sentence, words)}.
        </p>
      ))}
      {rows.length === 0 ? (
        <p className="quiet">
          Without club speed, or ball speed, launch and spin, no one can tell.
        </p>
      ) : (
        <table className="figures">
          <tbody>
            {rows.map(([label, value]) => (
              <tr key={label}>
                <th scope="row">{label}</th>
                <td>{value}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}

const ROWS = ["high", "middle", "low"];

/** The face as seen from in front, with the keys of a number pad. */
function Face(props: {
  cell: number | undefined;
  leftHanded: boolean;
  choose: (cell: number) => void;
}) {
  const sides = props.leftHanded ? ["heel", "centre", "toe"] : ["toe", "centre", "heel"];
  return (
    <div>
      <fieldset className="face" aria-label="Strike on the face">
        {ROWS.flatMap((row, r) =>
          sides.map((side, c) => {
            const cell = (2 - r) * 3 + c + 1;
            return (
              <button
                type="button"
                key={cell}
                aria-pressed={cell === props.cell}
                aria-label={`${row} ${side}`}
                onClick={() => props.choose(cell)}
              >
                {cell}
              </button>
            );
          }),
        )}
      </fieldset>
      <p className="face-sides quiet">
        <span>{sides[0]}</span>
        <span>{sides[2]}</span>
      </p>
    </div>
  );
}
