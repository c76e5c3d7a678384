// One shot, whole: its values, doubts, strike, and what the coach did with it.

import { Button, Drawer } from "antd";
import type { Quantity, Schemas } from "../../app/api";
import type { Words } from "../../app/vocabulary";
import { type Act, atTheMat } from "../../mat/acts";
import { clock, day } from "../../ui/day";
import { Face } from "../../ui/Face";
import { Reported } from "../../ui/Reported";
import { said } from "../../ui/Said";
import { LEVERS, PROVENANCE, reasonWords, STANDINGS } from "../../ui/words";
import { Corrections } from "./Corrections";
import type { SessionRead } from "./queries";
import css from "./ShotSheet.module.css";
import { Sources } from "./Sources";

const MARK_WORDS: Record<string, string> = {
  set_aside: "Set aside",
  keep: "Kept",
  withdraw: "Decision taken back",
  moved: "Given to another block",
  strike: "Strike marked",
};

interface Props {
  read: SessionRead;
  words: Words;
  index: number | undefined;
  close: () => void;
  setAside: (index: number) => void;
  mark: (index: number, act: Act, what: string) => void;
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
            {clock(shot.hit_at, session.zone)} ·{" "}
            {shot.sources.map((source) => source.device_name).join(" and ") || "entered by hand"}
          </p>
          {says.doubts.map((doubt) => (
            <p key={doubt.quantity} className="doubt">
              {said(doubt.reason, words)}
            </p>
          ))}
          <div className={css.sheetActs}>
            <Button onClick={() => setAside(index)}>Set aside</Button>
            <Button onClick={() => mark(index, { kind: "keep" }, "kept")}>Keep</Button>
            <Button onClick={() => mark(index, { kind: "withdraw" }, "taken back")}>
              Take back
            </Button>
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
            choose={(cell) => mark(index, { kind: "strike", cell }, `struck ${cell}`)}
            pinpoint={(toe, high) =>
              atTheMat(session.id).enter(
                shot.id,
                [
                  { quantity: "impact_toe", given: { value: toe, unit: "mm" } },
                  { quantity: "impact_high", given: { value: high, unit: "mm" } },
                ],
                `shot ${shot.number} struck at a point`,
              )
            }
          />
          <Corrections session={session.id} shot={shot} words={words} />
          <Sources read={read} shot={shot} words={words} />
          <h3>Record</h3>
          {shot.marks.length + shot.entries.length === 0 ? (
            <p className="quiet">Nothing was changed.</p>
          ) : (
            <ol className="record">
              {shot.marks.map((m) => (
                <li key={m.id}>
                  {MARK_WORDS[m.kind]}
                  {m.reason && `: ${reasonWords(m.reason)}`}
                  {m.note && `, “${m.note}”`}
                  {m.strike && ` ${m.strike}`}
                  <small>
                    {day(m.made_at, session.zone)}, {clock(m.made_at, session.zone)}
                  </small>
                </li>
              ))}
              {shot.entries.map((entry) => {
                const { label, dimension } = words.quantity(entry.quantity);
                return (
                  <li key={`${entry.entered_at}${entry.quantity}`}>
                    {entry.si == null
                      ? `${label} taken back`
                      : `${label} entered: ${words.show(dimension, entry.si)}`}
                    <small>
                      {day(entry.entered_at, session.zone)}, {clock(entry.entered_at, session.zone)}
                    </small>
                  </li>
                );
              })}
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
  for (const [lever, name] of Object.entries(LEVERS)) {
    const carry = unclaimed?.shares[lever];
    if (carry !== undefined) rows.push([`Unclaimed: ${name}`, yards(carry)]);
  }
  return (
    <>
      {failed.map((f) => (
        <p key={f.check} className="doubt">
          Not a useful flight, {words.failed(f)}.
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
