// One stream of changes for all tabs of a browser: it has few connections to give away.

import { hear } from "../ui/stream";

/** What a tab wants to hear of, and what it is told. */
export type Wanted = { sessions: string[] };
export type Told =
  | { kind: "changed"; session: string; from: string }
  | { kind: "open" | "away" | "refused" };

const wanted = new Map<MessagePort, string[]>();
let now = "";
let stop = () => {};
/** How the stream stands. */
let standing: Told = { kind: "away" };

function tell(told: Told) {
  for (const [port, sessions] of wanted) if (sessions.length > 0) port.postMessage(told);
}

function stands(told: Told) {
  standing = told;
  tell(told);
}

function listen() {
  const all = [...new Set([...wanted.values()].flat())].sort().join(",");
  if (all === now) return;
  now = all;
  stop();
  stop = () => {};
  if (!all) return;
  stop = hear(`/api/v1/live?sessions=${all}`, {
    changed: (session, from) => tell({ kind: "changed", session, from }),
    open: () => stands({ kind: "open" }),
    away: (refused) => stands({ kind: refused ? "refused" : "away" }),
  });
}

addEventListener("connect", (event) => {
  const [port] = (event as MessageEvent).ports;
  if (!port) return;
  wanted.set(port, []);
  port.onmessage = ({ data }: MessageEvent<Wanted>) => {
    const late = data.sessions.length > 0 && data.sessions.every((s) => now.includes(s));
    wanted.set(port, data.sessions);
    listen();
    // Who comes to a stream that is there already is told how it stands.
    if (late) port.postMessage(standing);
  };
});
