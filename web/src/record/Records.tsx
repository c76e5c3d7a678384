// The best of each value with a club.

import type { Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { day } from "../ui/day";

export function Records(props: {
  shown: Schemas["RecordShown"];
  sessions: Schemas["RecordedSession"][];
  words: Words;
}) {
  const { shown, sessions, words } = props;
  return (
    <table className="figures">
      <tbody>
        {shown.records.map(({ quantity, record }) => {
          const { dimension, label } = words.quantity(quantity);
          const session = sessions[record.session];
          return (
            <tr key={quantity}>
              <th scope="row">{label}</th>
              <td>
                <b>{words.show(dimension, record.best)}</b>
              </td>
              <td>
                <small>
                  {session && day(session.started_at, session.zone)}
                  {record.ties.length > 0 && ", tied since"}
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
