// What was typed and waits for the server, among what the server knows: a lost network
// stops no set.

import type { Schemas } from "../app/api";
import type { Waiting } from "../mat/kept";

/** A stroke of the tally, known to the server or on its way there. */
export interface Stroke {
  shot: string;
  set: number;
  /** Speed, m/s. */
  speed?: number;
  /** Speed of the ball, m/s. */
  ball?: number;
  aside: boolean;
  doubt?: Schemas["Sentence"];
  beat: boolean;
  /** Whether it waits for the server. */
  waiting: boolean;
}

export interface Tally {
  strokes: Stroke[];
  /** Swings of each set that stand. */
  done: number[];
  /** Place of the set that the next swing is of. */
  now?: number;
  /** Place of the one after. */
  next?: number;
}

interface Entries {
  values: { quantity: string; given: { value: number; unit: string } | null }[];
}

/** What was typed here and the page does not see in the server's answer yet: what waits, and
 * what the server took since it was last read. `seen` is what this gave before. */
export function unread(
  session: string,
  report: Schemas["RunReport"],
  outbox: { waiting: Waiting[]; aside: Waiting[] },
  seen: Waiting[],
): Waiting[] {
  const base = `/api/v1/sessions/${session}/shots/`;
  const known = new Set(report.strokes.map(({ shot }) => `${base}${shot}/entries`));
  const refused = new Set(outbox.aside.map(({ id }) => id));
  const waits = new Set(outbox.waiting.map(({ id }) => id));
  const sent = seen.filter(
    ({ id, path }) =>
      path.endsWith("/entries") && !waits.has(id) && !refused.has(id) && !known.has(path),
  );
  return [...sent, ...outbox.waiting.filter(({ path }) => path.startsWith(base))];
}

/** The tally of a session, with what waits to be sent put where the server will put it. */
export function tallied(
  session: string,
  report: Schemas["RunReport"],
  waiting: Waiting[],
  internal: (value: number, unit: string) => number,
): Tally {
  const strokes: Stroke[] = report.strokes.map((told) => ({
    shot: told.shot,
    set: told.set,
    speed: told.speed ?? undefined,
    ball: told.ball ?? undefined,
    aside: told.aside,
    doubt: told.doubt ?? undefined,
    beat: told.beat,
    waiting: false,
  }));
  const base = `/api/v1/sessions/${session}/shots/`;
  const done = report.sets.map((set) => set.done);
  const open = (at: number) => {
    const set = report.sets[at];
    return set && !set.skipped && !set.held && (done[at] ?? 0) < set.asked;
  };
  const following = (from: number) => {
    for (let at = from; at < report.sets.length; at++) if (open(at)) return at;
    return undefined;
  };
  let now = report.now ?? undefined;
  for (const entry of waiting) {
    if (!entry.path.startsWith(base)) continue;
    const [shot = "", what] = entry.path.slice(base.length).split("/");
    const there = strokes.find((stroke) => stroke.shot === shot);
    if (what === "entries" && !there) {
      const given = (entry.body as Entries).values.find((v) => v.quantity === "club_speed")?.given;
      // What comes after the last set stays with it.
      const set = now ?? report.sets.length - 1;
      const speed = given ? internal(given.value, given.unit) : undefined;
      strokes.push({ shot, set, speed, aside: false, beat: false, waiting: true });
      done[set] = (done[set] ?? 0) + 1;
    } else if (what === "marks" && there) {
      const { act } = entry.body as { act: { kind: string } };
      const aside = act.kind === "set_aside";
      if (aside !== there.aside && (aside || act.kind === "withdraw")) {
        there.aside = aside;
        done[there.set] = (done[there.set] ?? 0) + (aside ? -1 : 1);
        if (aside && (now === undefined || there.set < now)) now = there.set;
      }
    }
    if (now !== undefined && !open(now)) now = following(now);
  }
  return { strokes, done, now, next: now === undefined ? undefined : following(now + 1) };
}
