/** Who hears a stream of changes. */
export interface Hearer {
  /** Something changed: its name, where the stream tells of several, and from where on in the
   * database's log it is to be seen, where that is told. */
  changed: (what: string, from: string) => void;
  /** It was opened, at first or again: what happened meanwhile is unknown. */
  open: () => void;
  /** It broke, or was refused; it is asked for again. */
  away: (refused: boolean) => void;
}

/** How long a refused stream waits until it is asked for again. */
const REOPEN_MS = 5000;

/** Hears a stream of changes until it is told to stop. */
export function hear(path: string, hearer: Hearer): () => void {
  let events: EventSource;
  let again: ReturnType<typeof setTimeout> | undefined;
  const open = () => {
    events = new EventSource(path);
    events.addEventListener("changed", (event) => hearer.changed(event.data, event.lastEventId));
    events.onopen = hearer.open;
    events.onerror = () => {
      // A connection that broke comes back by itself; one that was refused does not.
      const refused = events.readyState === EventSource.CLOSED;
      hearer.away(refused);
      if (refused) again = setTimeout(open, REOPEN_MS);
    };
  };
  open();
  return () => {
    clearTimeout(again);
    events.close();
  };
}

/** Reads one at a time, and once more for whatever changed meanwhile: a burst of shots
 * neither starves the screen nor floods the server. */
export function oneByOne(read: () => Promise<unknown>): () => void {
  let reading = false;
  let missed = false;
  return async () => {
    missed = true;
    if (reading) return;
    reading = true;
    while (missed) {
      missed = false;
      await read();
    }
    reading = false;
  };
}
