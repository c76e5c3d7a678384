// The weeks of a programme: a row a week, a mark a session, its state told by shape.

import type { Schemas } from "../app/api";
import { LOCALE } from "../app/local";
import css from "./ProgrammeWeeks.module.css";

const STATES: Record<Schemas["DayState"], string> = {
  done: "done",
  under_way: "under way",
  missed: "missed",
  today: "today",
  to_come: "to come",
  away: "away",
};

const SHAPES: Record<Schemas["DayState"], string | undefined> = {
  done: css.done,
  under_way: css.underWay,
  missed: css.missed,
  today: css.today,
  to_come: undefined,
  away: css.away,
};

interface Props {
  programme: Schemas["Programme"];
  days: Schemas["TrainingDayView"][];
  choose: (day: Schemas["TrainingDayView"]) => void;
}

export function ProgrammeWeeks({ programme, days, choose }: Props) {
  const begins = new Date(`${programme.begins}T00:00:00Z`).getTime();
  const weekOf = (date: string) =>
    Math.floor((new Date(`${date}T00:00:00Z`).getTime() - begins) / (7 * 864e5));
  const weeks = Array.from({ length: programme.weeks }, (_, week) => ({
    week,
    days: days.filter(({ date }) => weekOf(date) === week),
  }));
  return (
    <>
      <ol className={css.weeks} aria-label="Weeks">
        {weeks.map(({ week, days: held }) => (
          <li key={week} className={isLighter(held) ? css.lighter : undefined}>
            <span className={css.number}>{week + 1}</span>
            <ul>
              {held.map((one) => (
                <li key={one.place}>
                  <button
                    type="button"
                    className={[css.day, SHAPES[one.state]].filter(Boolean).join(" ")}
                    onClick={() => choose(one)}
                  >
                    <i aria-hidden="true" />
                    <span>
                      {short(one.date)} <b>{one.title}</b>
                      <span className="sr-only">, {STATES[one.state]}</span>
                    </span>
                  </button>
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ol>
      <p className={css.legend} aria-hidden="true">
        <span className={css.done}>
          <i /> done
        </span>
        <span className={css.missed}>
          <i /> missed
        </span>
        <span className={css.away}>
          <i /> away
        </span>
        <span className={css.today}>
          <i /> today
        </span>
        <span className={css.toCome}>
          <i /> to come
        </span>
      </p>
    </>
  );
}

/** Whether a week is a lighter one throughout; a single session may be. */
function isLighter(days: Schemas["TrainingDayView"][]): boolean {
  return days.length > 0 && days.every(({ lighter, away }) => lighter || away);
}

/** "Mon 2 Mar", short enough for a row. */
function short(date: string): string {
  return new Date(`${date}T00:00:00Z`).toLocaleDateString(LOCALE, {
    weekday: "short",
    day: "numeric",
    month: "short",
    timeZone: "UTC",
  });
}
