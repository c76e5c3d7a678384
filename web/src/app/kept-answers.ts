// The answers that the mat needs, kept in this browser for as long as one stays signed in
// without doing anything: a page that is loaded again
// while the server is away shows what it showed. Whoever goes out, or is put out, takes them
// along.

import { type DehydratedState, dehydrate, hydrate, type QueryClient } from "@tanstack/react-query";
import { type IDBPDatabase, openDB } from "idb";
import { signedOut } from "./signed-out";

const KEPT_FOR_MS = 12 * 3600 * 1000;
/** Changes come in bursts; they are written down once in a while. */
const WRITE_MS = 1000;
/** The page does not wait longer for what was kept. */
const READ_WITHIN_MS = 500;
const STORE = "answers";

interface Kept {
  /** The application that asked: answers have the shape that it knows. */
  by: string;
  at: number;
  state: DehydratedState;
}

/** Named by what is in it. */
const THIS_APPLICATION = import.meta.url;

let database: Promise<IDBPDatabase> | undefined;

function open(): Promise<IDBPDatabase> {
  database ??= openDB("amber-tally-answers", 1, {
    upgrade: (fresh) => {
      fresh.createObjectStore(STORE);
    },
  });
  return database;
}

/** Whether a page at the mat cannot do without an answer. */
function isOfTheMat([what, , station]: readonly unknown[]): boolean {
  if (what === "session") return station === "hit" || station === "run";
  return what === "me" || what === "school" || what === "vocabulary";
}

/** Puts back what was kept, and keeps what comes from now on; a browser that keeps nothing
 * goes without. */
export async function keepAnswers(queries: QueryClient) {
  for (const answer of ["me", "school", "vocabulary", "session"])
    queries.setQueryDefaults([answer], { gcTime: KEPT_FOR_MS });
  // Nobody said yet that whoever opened the page is still the one who may see them.
  let unconfirmed = false;
  const putBack = (kept: Kept | undefined) => {
    // Whoever has been answered meanwhile needs none of it, and may be somebody else.
    if (!kept || signedOut.getState().out || queries.getQueryData(["me"]) !== undefined) return;
    unconfirmed = true;
    hydrate(queries, kept.state);
    // Shown at once, and asked for again as soon as somebody answers.
    void queries.invalidateQueries({ refetchType: "none" });
  };
  const late = new Promise<void>((done) => setTimeout(done, READ_WITHIN_MS));
  // What comes later takes the place of what the page says of a server that is away.
  await Promise.race([read().then(putBack), late]);
  let due = false;
  queries.getQueryCache().subscribe((event) => {
    if (event.type !== "updated" || event.action.type !== "success") return;
    const { queryKey } = event.query;
    if (queryKey[0] === "me") unconfirmed = false;
    if (due || !isOfTheMat(queryKey)) return;
    due = true;
    setTimeout(() => {
      due = false;
      if (!signedOut.getState().out) void write(queries);
    }, WRITE_MS);
  });
  signedOut.subscribe(({ out }) => {
    if (!out) return;
    void forgetAnswers();
    if (!unconfirmed) return;
    unconfirmed = false;
    // Not left standing behind the sign-in, as what this person had open is.
    queries.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== "me" });
    void queries.resetQueries({ queryKey: ["me"] });
  });
}

async function read(): Promise<Kept | undefined> {
  try {
    const kept: Kept | undefined = await (await open()).get(STORE, "kept");
    const fits = kept?.by === THIS_APPLICATION && Date.now() - kept.at < KEPT_FOR_MS;
    return fits ? kept : undefined;
  } catch {
    return undefined;
  }
}

async function write(queries: QueryClient) {
  const state = dehydrate(queries, {
    shouldDehydrateMutation: () => false,
    shouldDehydrateQuery: ({ state, queryKey }) => state.data !== undefined && isOfTheMat(queryKey),
  });
  const kept: Kept = { by: THIS_APPLICATION, at: Date.now(), state };
  try {
    await (await open()).put(STORE, kept, "kept");
  } catch {}
}

/** Forgets what was kept. */
export async function forgetAnswers() {
  try {
    await (await open()).clear(STORE);
  } catch {}
}
