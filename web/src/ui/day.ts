/** A moment as a day and a time at the place where it happened. */
export function day(at: string, zone: string): string {
  return new Date(at).toLocaleDateString("en-GB", {
    day: "numeric",
    month: "long",
    year: "numeric",
    timeZone: zone,
  });
}

export function clock(at: string, zone: string): string {
  return new Date(at).toLocaleTimeString("en-GB", {
    hour: "2-digit",
    minute: "2-digit",
    second: "2-digit",
    timeZone: zone,
  });
}
