import { LOCALE } from "../app/local";
/** A moment as a day at the place where it happened. */
export function day(at: string, zone: string): string {
  return told(at, zone, { day: "numeric", month: "long", year: "numeric" });
}

/** A moment as a time of day at the place where it happened. */
export function clock(at: string, zone: string): string {
  return told(at, zone, { hour: "2-digit", minute: "2-digit", second: "2-digit" });
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
