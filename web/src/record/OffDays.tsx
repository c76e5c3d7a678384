// Off days, beside what the player said before hitting.

import type { Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { said } from "../ui/Said";
import css from "./RecordTab.module.css";

export function OffDays({ days, words }: { days: Schemas["OffDay"][]; words: Words }) {
  if (days.length === 0) return null;
  return (
    <>
      <h2 className={`minor ${css.next}`}>Off days</h2>
      <ul className={css.offDays}>
        {days.map((day) => (
          <li key={day.date}>{said(day.said, words)}</li>
        ))}
      </ul>
    </>
  );
}
