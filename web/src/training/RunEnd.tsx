// What a training session gave: one sentence, the table, the week, and what comes next.

import { Link } from "react-router";
import type { Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { useOpening } from "../session/read/queries";
import { day } from "../ui/day";
import { said } from "../ui/Said";
import type { RunView } from "./queries";
import css from "./RunEnd.module.css";

export function RunEnd({ view, words }: { view: RunView; words: Words }) {
  const { after, next, session } = view;
  // Balls with usual ones beside them tell what intent gave, and a run of sticks does not.
  const balls = session.purpose_key === "speed_day";
  const speed = (si: number) => words.bare("speed", si);
  return (
    <section className={css.end} aria-label="What it gave">
      {balls ? (
        <Intent view={view} words={words} />
      ) : (
        <>
          <p className={css.said}>{said(after.said, words)}</p>
          <p className={css.detail}>{said(after.detail, words)}</p>
        </>
      )}
      {after.rows.length > 0 && (
        <div className="scroll">
          <table className={`figures ${css.rows}`}>
            <thead>
              <tr>
                <th scope="col">Set</th>
                <th scope="col">Best, {words.symbol("speed")}</th>
                <th scope="col">Average</th>
                <th scope="col">Last time</th>
                <th scope="col" className={css.before}>
                  Record before
                </th>
              </tr>
            </thead>
            <tbody>
              {after.rows.map((row) => (
                <tr key={`${row.label} ${row.of.gentle}`}>
                  <th scope="row">
                    {row.label}
                    {row.of.gentle && row.of.swung && <small> gentle</small>}
                  </th>
                  <td>
                    {row.new_record && (
                      <span className={css.record} title="A record">
                        ▲{" "}
                      </span>
                    )}
                    <b>{speed(row.best)}</b>
                  </td>
                  <td>{speed(row.mean)}</td>
                  <td className={`second ${css.last}`}>{lastTime(row, words)}</td>
                  <td className={`second ${css.before}`}>{row.record ? speed(row.record) : ""}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <p className={css.week}>
        {Math.round(after.made * 100)} % of its swings were made
        {after.whole ? "" : ": it does not count as whole"}. {said(after.week, words)}
      </p>
      {session.progress.held && (
        <p className={css.next}>
          Held: {session.progress.held}. <b>Let the programme pause</b> until those who may judge it
          agree: <Link to={`/players/${session.player}/programme`}>on the player’s page</Link>.
        </p>
      )}
      {next && (
        <p className={css.next}>
          <b>Next: {next.title}</b>, {day(next.date, "UTC")}
          {next.to_beat &&
            `; to beat with ${next.to_beat.label}: ${words.show("speed", next.to_beat.best)}`}
          .
        </p>
      )}
      <p>
        <Link to={`/sessions/${view.session.id}/read`}>Read every swing</Link> ·{" "}
        <Link to={`/players/${view.session.player}/programme`}>The programme</Link> ·{" "}
        <Link to={`/players/${view.session.player}`}>The record</Link>
      </p>
    </section>
  );
}

/** What swinging with the intent to be fast gave, and the fastest. */
function Intent({ view, words }: { view: RunView; words: Words }) {
  const { session, after } = view;
  const verdict = useOpening(session.id, session.club_key).data?.verdict;
  return (
    <>
      <p className={css.said}>{said(verdict?.sentence ?? after.said, words)}</p>
      {verdict && <p className={css.detail}>{said(verdict.detail, words)}</p>}
      {verdict && <p className={css.detail}>{said(after.said, words)}</p>}
    </>
  );
}

function lastTime({ last }: Schemas["AfterRow"], words: Words) {
  if (!last) return "";
  return `${words.bare("speed", last.best)}, average ${words.bare("speed", last.mean)}`;
}
