import { DatePicker } from "antd";
import dayjs from "dayjs";
import customParseFormat from "dayjs/plugin/customParseFormat";
import updateLocale from "dayjs/plugin/updateLocale";
import { LOCALE } from "../app/local";
import css from "./DayPicker.module.css";
import { dayFormat, firstOfWeek } from "./day";

export interface DayFieldProps {
  /** Year-month-day; empty while there is none. */
  value: string;
  onChange: (day: string) => void;
  "aria-label"?: string;
  /** Whether it is typed in as soon as it is there. */
  autoFocus?: boolean;
  min?: string;
  max?: string;
}

const ISO = "YYYY-MM-DD";
// A week begins as it does here.
dayjs.extend(updateLocale);
dayjs.extend(customParseFormat);
dayjs.updateLocale("en", { weekStart: firstOfWeek(LOCALE) });

// Shown as it is written here; typed so, or year first.
const FORMATS = [dayFormat(LOCALE), ISO];

export function DayPicker({ value, onChange, min, max, ...rest }: DayFieldProps) {
  // A day that is typed counts as soon as it is one: who types it and presses the button next to
  // it means it.
  const typed = (text: string) => {
    const day = dayjs(text, FORMATS, true);
    if (day.isValid()) onChange(day.format(ISO));
  };
  return (
    <span className={css.day} onInput={(event) => typed((event.target as HTMLInputElement).value)}>
      <DatePicker
        {...rest}
        value={value ? dayjs(value, ISO) : null}
        onChange={(day) => onChange(day ? day.format(ISO) : "")}
        format={FORMATS}
        {...(min && { minDate: dayjs(min, ISO) })}
        {...(max && { maxDate: dayjs(max, ISO) })}
        placeholder={FORMATS[0] ?? ISO}
      />
    </span>
  );
}
