// What was done at the mat and not yet acknowledged: kept in this browser, sent in order,
// once each, by one tab at a time. Every entry carries its own identifier, so that sending
// one again after a lost answer changes nothing. An entry that is refused, or fails again
// and again, steps aside with its text; the others go on.

import { v7 as uuid } from "uuid";
import { createStore, useStore } from "zustand";
import type { Problem } from "../app/api";
import { noted } from "../app/position";
import { signedOut } from "../app/signed-out";
import { type Keeper, keeper, LEASE_MS, type Waiting } from "./kept";

export interface Outbox {
  /** To be sent, in order. */
  waiting: Waiting[];
  /** Stepped aside, each with the reason. */
  aside: Waiting[];
  /** Whether the server could not be reached the last time. */
  away: boolean;
}

const RETRY_MS = 1500;
/** Failures of the server's own after which an entry steps aside. */
const MOST_FAILURES = 3;
/** Where entries were kept before they were in a database. */
const OLD_KEY = "amber-tally.outbox";

const tab = uuid();
const state = createStore<Outbox>(() => ({ waiting: [], aside: [], away: false }));
const sentListeners = new Set<() => void>();
const otherTabs =
  typeof BroadcastChannel === "undefined" ? undefined : new BroadcastChannel(OLD_KEY);
const kept: Promise<Keeper> = keeper();

/** Entries on their way into the database: seen already, and to be sent after it. */
let arriving: Waiting[] = [];
let sending = false;
let again = false;

/** Puts an entry into the queue and sends it as soon as the server can be reached. */
export function enqueue(entry: Waiting) {
  arriving = [...arriving, entry];
  state.setState(({ waiting }) => ({ waiting: [...waiting, entry] }));
  void keep(entry);
}

async function keep(entry: Waiting) {
  const keeping = await kept;
  await keeping.add(entry);
  arriving = arriving.filter((other) => other.id !== entry.id);
  otherTabs?.postMessage("changed");
  await send();
}

/** Shows what the database holds. */
async function look() {
  const all = await (await kept).all();
  const here = new Set(all.map((entry) => entry.id));
  const coming = arriving.filter((entry) => !here.has(entry.id));
  state.setState({
    waiting: [...all.filter((entry) => entry.aside === undefined), ...coming],
    aside: all.filter((entry) => entry.aside !== undefined),
  });
}

/** Sends what waits, unless another tab does. */
export async function send() {
  again = true;
  if (sending) return;
  sending = true;
  try {
    while (again) {
      again = false;
      await sendAll(await kept);
    }
  } finally {
    sending = false;
  }
}

async function sendAll(keeping: Keeper) {
  if (!(await keeping.lease(tab, Date.now()))) {
    // The tab that sends may be gone.
    setTimeout(() => void send(), LEASE_MS);
    await look();
    return;
  }
  let sent = false;
  try {
    for (;;) {
      const next = (await keeping.all()).find((entry) => entry.aside === undefined);
      if (!next || !(await keeping.lease(tab, Date.now()))) break;
      const outcome = await deliver(next);
      if (outcome.kind === "away") {
        state.setState({ away: true });
        setTimeout(() => void send(), outcome.after);
        break;
      }
      state.setState({ away: false });
      await settle(keeping, next, outcome);
      sent ||= outcome.kind === "sent";
      await look();
      otherTabs?.postMessage("changed");
    }
  } finally {
    await keeping.release(tab);
  }
  await look();
  if (sent) for (const heard of sentListeners) heard();
}

type Outcome =
  | { kind: "sent" }
  | { kind: "away"; after: number }
  | { kind: "refused"; why: string }
  | { kind: "failed"; why: string };

async function settle(keeping: Keeper, entry: Waiting, outcome: Outcome) {
  if (outcome.kind === "sent") {
    await keeping.remove(entry.id);
  } else if (outcome.kind === "refused") {
    await keeping.change({ ...entry, aside: outcome.why });
  } else if (outcome.kind === "failed") {
    const failures = (entry.failures ?? 0) + 1;
    const aside = failures >= MOST_FAILURES ? outcome.why : undefined;
    await keeping.change({ ...entry, failures, aside });
  }
}

async function deliver(entry: Waiting): Promise<Outcome> {
  let answer: Response;
  try {
    answer = noted(
      await fetch(entry.path, {
        method: entry.method,
        headers: { "content-type": "application/json" },
        body: JSON.stringify(entry.body),
      }),
    );
  } catch {
    return { kind: "away", after: RETRY_MS };
  }
  if (answer.ok) return { kind: "sent" };
  // A proxy without a server behind it, or a database that is not there just now.
  if ([502, 503, 504].includes(answer.status)) return { kind: "away", after: RETRY_MS };
  if (answer.status === 429) {
    const wanted = Number(answer.headers.get("retry-after"));
    return { kind: "away", after: wanted > 0 ? wanted * 1000 : RETRY_MS };
  }
  // It waits until someone has signed in again.
  if (answer.status === 401) {
    signedOut.setState({ out: true });
    return { kind: "away", after: RETRY_MS };
  }
  const problem = (await answer.json().catch(() => ({}))) as Partial<Problem>;
  const why = problem.detail ?? `The server answered ${answer.status}.`;
  return { kind: answer.status >= 500 ? "failed" : "refused", why };
}

/** Sends an entry that stepped aside once more, in its old place. */
export async function tryAgain(entry: Waiting) {
  await (await kept).change({ ...entry, failures: 0, aside: undefined });
  await look();
  otherTabs?.postMessage("changed");
  await send();
}

/** Lets an entry that stepped aside go for good. */
export async function letGo(entry: Waiting) {
  await (await kept).remove(entry.id);
  await look();
  otherTabs?.postMessage("changed");
}

export function onSent(heard: () => void): () => void {
  sentListeners.add(heard);
  return () => sentListeners.delete(heard);
}

export function useOutbox(): Outbox {
  return useStore(state);
}

/** The outbox as it stands. */
export const outbox = state.getState;

/** Takes over what waits from an earlier visit, or from an older version. */
async function begin() {
  const keeping = await kept;
  try {
    const old = JSON.parse(localStorage.getItem(OLD_KEY) ?? "[]") as Waiting[];
    for (const entry of old) await keeping.add(entry);
    localStorage.removeItem(OLD_KEY);
  } catch {
    // What cannot be read stays where it is.
  }
  await send();
}

if (otherTabs) otherTabs.onmessage = () => void look();
addEventListener("online", () => void send());
void begin();
