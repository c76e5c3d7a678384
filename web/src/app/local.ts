// How this browser's people write numbers and dates, and where they are.

/** The browser's language, with the digits that every field takes. */
export const LOCALE = localeOf(navigator.language);

/** The zone of this browser's clock. */
export const ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;

export function localeOf(language: string): string {
  try {
    return new Intl.Locale(language, { numberingSystem: "latn" }).toString();
  } catch {
    // A browser may say anything.
    return "en-GB";
  }
}
