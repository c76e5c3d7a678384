import { LOCALE } from "../app/local";
/** A moment as a day at the place where it happened. */
export function day(at: string, zone: string): string {
  return told(at, zone, { day: "numeric", month: "long", year: "numeric" });
}

/** A day of the calendar, year-month-day, in words. */
export function dated(date: string, year: boolean): string {
  const parts = { day: "numeric", month: "long" } as const;
  return told(`${date}T12:00Z`, "UTC", year ? { ...parts, year: "numeric" } : parts);
}

/** A moment as a time of day at the place where it happened. */
export function clock(at: string, zone: string): string {
  return told(at, zone, { hour: "2-digit", minute: "2-digit", second: "2-digit" });
}

/** The same without seconds. */
export function minute(at: string, zone: string): string {
  return told(at, zone, { hour: "2-digit", minute: "2-digit" });
}

/** A zone that this browser does not know is told as UTC: no page dies of it. */
function told(at: string, zone: string, parts: Intl.DateTimeFormatOptions): string {
  const moment = new Date(at);
  try {
    return moment.toLocaleString(LOCALE, { ...parts, timeZone: zone });
  } catch {
    return `${moment.toLocaleString(LOCALE, { ...parts, timeZone: "UTC" })} UTC`;
  }
}

/** How a day is written in numbers, as patterns of letters: "DD/MM/YYYY". */
export function dayFormat(locale: string): string {
  const numbers = { year: "numeric", month: "2-digit", day: "2-digit" } as const;
  const parts = new Intl.DateTimeFormat(locale, numbers).formatToParts(new Date(2026, 10, 27));
  const letters: Partial<Record<string, string>> = { day: "DD", month: "MM", year: "YYYY" };
  return parts.map(({ type, value }) => letters[type] ?? value).join("");
}

/** The day that a week begins with, 0 for Sunday; Monday where the browser does not tell. */
export function firstOfWeek(locale: string): number {
  const told = new Intl.Locale(locale) as Intl.Locale & {
    getWeekInfo?: () => { firstDay: number };
    weekInfo?: { firstDay: number };
  };
  return (told.getWeekInfo?.() ?? told.weekInfo ?? { firstDay: 1 }).firstDay % 7;
}
