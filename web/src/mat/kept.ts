// Where entries wait in this browser: IndexedDB, which all tabs share, or this tab's
// memory where the browser gives none.

import { type DBSchema, type IDBPDatabase, openDB } from "idb";

/** Something done at the mat that the server has not acknowledged yet. */
export interface Waiting {
  id: string;
  method: "POST" | "PUT" | "DELETE";
  path: string;
  body: unknown;
  /** What it is, in the coach's words: "shot 7 set aside". */
  what: string;
  /** How often the server answered that it failed. */
  failures?: number;
  /** Why it stepped aside: others do not wait for it, and the coach decides. */
  aside?: string;
}

interface Kept extends DBSchema {
  waiting: { key: number; value: Waiting & { place?: number }; indexes: { id: string } };
  lease: { key: "sender"; value: { tab: string; until: number } };
}

/** How long a tab may send before another takes over, unless it says that it goes on. */
export const LEASE_MS = 8000;

export interface Keeper {
  /** All entries in the order in which they were made. */
  all: () => Promise<Waiting[]>;
  /** Adds an entry at the end; one that is there already stays as it is. */
  add: (entry: Waiting) => Promise<void>;
  /** Puts an entry in place of itself. */
  change: (entry: Waiting) => Promise<void>;
  remove: (id: string) => Promise<void>;
  /** Whether this tab may send now; it may go on for a while then. */
  lease: (tab: string, now: number) => Promise<boolean>;
  release: (tab: string) => Promise<void>;
}

export async function keeper(): Promise<Keeper> {
  try {
    const database = await openDB<Kept>("amber-tally", 1, {
      upgrade: (fresh) => {
        const waiting = fresh.createObjectStore("waiting", {
          keyPath: "place",
          autoIncrement: true,
        });
        waiting.createIndex("id", "id", { unique: true });
        fresh.createObjectStore("lease");
      },
    });
    return inDatabase(database);
  } catch {
    return inMemory();
  }
}

function inDatabase(database: IDBPDatabase<Kept>): Keeper {
  return {
    all: async () => database.getAll("waiting"),
    add: async (entry) => {
      const adding = database.transaction("waiting", "readwrite");
      const there = await adding.store.index("id").getKey(entry.id);
      if (there === undefined) await adding.store.add(entry);
      await adding.done;
    },
    change: async (entry) => {
      const changing = database.transaction("waiting", "readwrite");
      const place = await changing.store.index("id").getKey(entry.id);
      if (place !== undefined) await changing.store.put({ ...entry, place });
      await changing.done;
    },
    remove: async (id) => {
      const removing = database.transaction("waiting", "readwrite");
      const place = await removing.store.index("id").getKey(id);
      if (place !== undefined) await removing.store.delete(place);
      await removing.done;
    },
    // Read and written in one transaction, so that two tabs cannot both have it; unlike
    // the browser's own locks it is there on plain HTTP too.
    lease: async (tab, now) => {
      const leasing = database.transaction("lease", "readwrite");
      const held = await leasing.store.get("sender");
      const free = !held || held.tab === tab || held.until <= now;
      if (free) await leasing.store.put({ tab, until: now + LEASE_MS }, "sender");
      await leasing.done;
      return free;
    },
    release: async (tab) => {
      const leasing = database.transaction("lease", "readwrite");
      const held = await leasing.store.get("sender");
      if (held?.tab === tab) await leasing.store.delete("sender");
      await leasing.done;
    },
  };
}

function inMemory(): Keeper {
  let entries: Waiting[] = [];
  return {
    all: async () => entries,
    add: async (entry) => {
      if (!entries.some((e) => e.id === entry.id)) entries = [...entries, entry];
    },
    change: async (entry) => {
      entries = entries.map((e) => (e.id === entry.id ? entry : e));
    },
    remove: async (id) => {
      entries = entries.filter((e) => e.id !== id);
    },
    lease: async () => true,
    release: async () => {},
  };
}
