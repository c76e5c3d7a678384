// Where in the database's log this browser's changes are to be seen. A server that reads pages from
// a copy of the database tells it with each change, and reads no page from before it. What says
// nothing is read from the first database.

import type { Middleware } from "openapi-fetch";

/** The beginning of the log: whatever there is will do. */
const ANYWHERE = "0/0";
const HEADER = "tally-position";
const KEY = "amber-tally-position";
/** How long it is told: copies are behind by less, and another database begins anew. */
const TOLD_MS = 60_000;

/** Whether one place is behind another; both as "1/16B3748". */
export function isLater(one: string, other: string): boolean {
  const [a, b] = [one, other].map((place) => place.split("/").map((part) => parseInt(part, 16)));
  const [high, low] = [(a?.[0] || 0) - (b?.[0] || 0), (a?.[1] || 0) - (b?.[1] || 0)];
  return high > 0 || (high === 0 && low > 0);
}

let mine = { at: ANYWHERE, told: 0 };

/** The latest of this tab and, where tabs can tell each other, of all. */
function latest(): string {
  let kept = mine;
  try {
    const [at, told] = (localStorage.getItem(KEY) ?? "").split(" ");
    if (at && isLater(at, mine.at)) kept = { at, told: Number(told) };
  } catch {
    // This tab alone then.
  }
  return Date.now() - kept.told < TOLD_MS ? kept.at : ANYWHERE;
}

/** What was heard of or done is to be seen from here on. */
export function seenFrom(at: string | null | undefined): void {
  if (!at || !isLater(at, latest())) return;
  mine = { at, told: Date.now() };
  try {
    localStorage.setItem(KEY, `${mine.at} ${mine.told}`);
  } catch {
    // This tab alone then.
  }
}

/** An answer, once it has told where what was done is to be seen. */
export function noted(answer: Response): Response {
  seenFrom(answer.headers.get(HEADER));
  return answer;
}

export const position: Middleware = {
  onRequest({ request }) {
    request.headers.set(HEADER, latest());
    return request;
  },
  onResponse({ response }) {
    noted(response);
    return undefined;
  },
};
