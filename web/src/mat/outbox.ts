// What was typed at the mat and not yet acknowledged: kept in this browser, sent in
// order, once each. Every entry carries its own identifier, so that sending one again
// after a lost answer changes nothing.

import { useSyncExternalStore } from "react";
import type { Problem } from "../app/api";
import { signedOut } from "../app/signed-out";

export interface Waiting {
  id: string;
  method: "POST" | "PUT";
  path: string;
  body: unknown;
  /** What it is, in the coach's words: "shot 7 set aside". */
  what: string;
}

export interface Outbox {
  waiting: Waiting[];
  /** Whether the server could not be reached the last time. */
  away: boolean;
  /** The last entry that the server refused, with its words. */
  refused?: { what: string; why: string };
}

const KEY = "amber-tally.outbox";
const RETRY_MS = 1500;

let state: Outbox = { waiting: stored(), away: false };
const listeners = new Set<() => void>();
const sentListeners = new Set<() => void>();
let flushing = false;

function stored(): Waiting[] {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? "[]") as Waiting[];
  } catch {
    return [];
  }
}

function change(next: Partial<Outbox>) {
  state = { ...state, ...next };
  localStorage.setItem(KEY, JSON.stringify(state.waiting));
  for (const heard of listeners) heard();
}

/** Puts an entry into the queue and sends it as soon as the server can be reached. */
export function enqueue(entry: Waiting) {
  change({ waiting: [...state.waiting, entry] });
  void flush();
}

async function flush() {
  if (flushing) return;
  flushing = true;
  // Another tab of this browser must not send the same entries meanwhile.
  await navigator.locks.request(KEY, async () => {
    let sent = false;
    // What another tab has sent is gone from the store.
    const left = new Set(stored().map((w) => w.id));
    change({ waiting: state.waiting.filter((w) => left.has(w.id)) });
    for (let next = state.waiting[0]; next; next = state.waiting[0]) {
      const outcome = await deliver(next);
      if (outcome === "away") {
        change({ away: true });
        setTimeout(() => void flush(), RETRY_MS);
        break;
      }
      const { id, what } = next;
      const refused = outcome === "sent" ? state.refused : { what, why: outcome.why };
      change({ away: false, refused, waiting: state.waiting.filter((w) => w.id !== id) });
      sent = true;
    }
    if (sent) for (const heard of sentListeners) heard();
  });
  flushing = false;
}

async function deliver(entry: Waiting): Promise<"sent" | "away" | { why: string }> {
  try {
    const answer = await fetch(entry.path, {
      method: entry.method,
      headers: { "content-type": "application/json" },
      body: JSON.stringify(entry.body),
    });
    if (answer.ok) return "sent";
    if (answer.status >= 500) return "away";
    const problem = (await answer.json().catch(() => ({}))) as Partial<Problem>;
    // It waits until someone has signed in again.
    if (answer.status === 401) {
      signedOut.setState({ out: true });
      return "away";
    }
    return { why: problem.detail ?? `The server answered ${answer.status}.` };
  } catch {
    return "away";
  }
}

/** Forgets the refusal that was told. */
export function acknowledgeRefusal() {
  change({ refused: undefined });
}

export function onSent(heard: () => void): () => void {
  sentListeners.add(heard);
  return () => sentListeners.delete(heard);
}

export function useOutbox(): Outbox {
  return useSyncExternalStore(
    (heard) => {
      listeners.add(heard);
      return () => listeners.delete(heard);
    },
    () => state,
  );
}

addEventListener("online", () => void flush());
if (state.waiting.length > 0) void flush();
