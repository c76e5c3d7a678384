// Last time's figures, and the figure to beat.

import { Link } from "react-router";
import type { Words } from "../../app/vocabulary";
import { day } from "../../ui/day";
import { useRecordsToBeat } from "../queries";
import type { Preparation } from "./queries";
import css from "./ToBeat.module.css";

export function ToBeat(props: { told: Preparation; player: string; club: string; words: Words }) {
  const { told, player, club, words } = props;
  const { last } = told;
  const records = useRecordsToBeat(player, club).data ?? [];
  if (!last) {
    return (
      <div className={css.toBeat}>
        <p className="quiet">
          Nothing to beat yet: this is the first session of this purpose with this club.
        </p>
      </div>
    );
  }
  const { to_beat, figures } = last.told;
  return (
    <div className={css.toBeat}>
      <div>
        {to_beat.map(({ quantity, best, mean, n }, i) => {
          const { dimension, label } = words.quantity(quantity);
          const record = records.find((r) => r.quantity === quantity);
          return (
            <p key={quantity} className={i === 0 ? css.first : css.further}>
              {i === 0 && <span className="quiet">To beat</span>}
              <b>{words.show(dimension, best)}</b>
              <span>
                {label.toLowerCase()}, best of {n}; average {words.bare(dimension, mean)}
                {record && record.best > best && <>; record {words.bare(dimension, record.best)}</>}
              </span>
            </p>
          );
        })}
        {last.after_off_day && (
          <p className="quiet">The session after it was an off day: its figures are not these.</p>
        )}
      </div>
      <table className="figures">
        <caption>
          Last time,{" "}
          <Link to={`/sessions/${last.session}/read`}>{day(last.started_at, last.zone)}</Link>,{" "}
          {last.place.toLowerCase()}
        </caption>
        <tbody>
          {figures.map(({ quantity, summary }) => {
            const { dimension, label } = words.quantity(quantity);
            return (
              <tr key={quantity}>
                <th scope="row">{label}</th>
                <td>{words.show(dimension, summary.mean)}</td>
                <td className="second">
                  {summary.spread != null && `± ${words.bare(dimension, summary.spread)}`}
                </td>
                <td className="second">n {summary.n}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
