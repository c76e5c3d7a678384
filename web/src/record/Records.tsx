// The best of each value with a club, or with an implement that is swung without a ball.

import type { Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { day } from "../ui/day";
import { nameOf } from "./names";
import css from "./RecordTab.module.css";

export function Records(props: {
  records: Schemas["StandingRecord"][];
  choice: Schemas["SeriesChoice"];
  sessions: Schemas["RecordedSession"][];
  words: Words;
}) {
  const { records, choice, sessions, words } = props;
  const own = choice.swung
    ? records.filter(({ of }) => of.swung)
    : records.filter(({ of }) => of.club === choice.club);
  return (
    <table className={`figures ${css.records}`}>
      <tbody>
        {own.map(({ of, record, indoors, outdoors }) => {
          const { dimension, label } = words.quantity(of.quantity);
          const session = sessions[record.session];
          const name = of.swung ? nameOf(of, words) : label;
          return (
            <tr key={name}>
              <th scope="row">{name}</th>
              <td>
                <b>{words.show(dimension, record.best)}</b>
              </td>
              <td>
                <small>
                  {session && day(session.started_at, session.zone)}
                  {record.ties.length > 0 && ", tied since"}
                  {indoors != null && outdoors != null && (
                    <>
                      , indoors {words.bare(dimension, indoors)}, outdoors{" "}
                      {words.bare(dimension, outdoors)}
                    </>
                  )}
                  {record.before != null && `, before it ${words.bare(dimension, record.before)}`}
                </small>
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
