// Hearing of a session's changes: by the one stream that all tabs of this browser share,
// or by one of our own where tabs cannot share any.

import { seenFrom } from "../app/position";
import { type Hearer, hear } from "../ui/stream";
import type { Told, Wanted } from "./live.worker";

interface Heard {
  session: string;
  hearer: Hearer;
  /** Ends a stream of its own, where it has one. */
  stop?: () => void;
}

interface Shared {
  port: MessagePort;
  hearers: Set<Heard>;
}

const pathOf = (session: string) => `/api/v1/live?sessions=${session}`;

/** Hears by a stream of its own. */
function alone(hearer: Hearer): Hearer {
  const changed = (what: string, from: string) => {
    seenFrom(from);
    hearer.changed(what, from);
  };
  return { ...hearer, changed };
}

let shared: Shared | undefined | null;

/** The stream that tabs share; none where there is no such thing. */
function sharing(): Shared | null {
  if (shared !== undefined) return shared;
  if (typeof SharedWorker === "undefined") {
    shared = null;
    return shared;
  }
  const worker = new SharedWorker(new URL("./live.worker.ts", import.meta.url), {
    type: "module",
    name: "amber-tally-live",
  });
  const made: Shared = { port: worker.port, hearers: new Set() };
  made.port.onmessage = ({ data }: MessageEvent<Told>) => {
    if (data.kind === "changed") seenFrom(data.from);
    for (const { session, hearer } of made.hearers) {
      if (data.kind === "open") hearer.open();
      else if (data.kind !== "changed") hearer.away(data.kind === "refused");
      else if (data.session === session || data.session === "all")
        hearer.changed(session, data.from);
    }
  };
  // A browser that has such workers may still not run ours: then each tab hears by itself.
  worker.onerror = () => {
    shared = null;
    for (const one of made.hearers) one.stop = hear(pathOf(one.session), alone(one.hearer));
  };
  // A tab that is put away hears nothing until it is taken out again.
  addEventListener("pagehide", () => want(made, []));
  addEventListener("pageshow", () => want(made));
  shared = made;
  return made;
}

function want({ port, hearers }: Shared, sessions = [...hearers].map((h) => h.session)) {
  port.postMessage({ sessions } satisfies Wanted);
}

/** Hears of a session's changes until it is told to stop. */
export function hearOf(session: string, hearer: Hearer): () => void {
  const all = sharing();
  if (!all) return hear(pathOf(session), alone(hearer));
  const one: Heard = { session, hearer };
  all.hearers.add(one);
  want(all);
  return () => {
    one.stop?.();
    all.hearers.delete(one);
    want(all);
  };
}
