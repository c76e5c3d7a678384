import "fake-indexeddb/auto";
import { QueryClient } from "@tanstack/react-query";
import { IDBFactory } from "fake-indexeddb";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

// What hangs ends; a busy machine is no fault of a test's.
const PATIENCE = { timeout: 60_000 };

/** The application as a page loads it, in a browser that opens what it keeps no sooner than this. */
async function loaded(opens: Promise<void> = Promise.resolve()): Promise<QueryClient> {
  vi.resetModules();
  vi.doMock("idb", async (real) => {
    const idb = await real<typeof import("idb")>();
    const openDB = async (...how: Parameters<typeof idb.openDB>) => {
      await opens;
      return idb.openDB(...how);
    };
    return { ...idb, openDB };
  });
  const { keepAnswers } = await import("./kept-answers");
  const queries = new QueryClient();
  await keepAnswers(queries);
  return queries;
}

/** A page whose browser opens what it keeps when it is let. */
async function slow() {
  let open = () => {};
  const opens = new Promise<void>((done) => {
    open = done;
  });
  return { queries: await loaded(opens), open };
}

beforeEach(async () => {
  vi.stubGlobal("indexedDB", new IDBFactory());
  const first = await loaded();
  for (const [key, answer] of [
    ["vocabulary", "words"],
    ["me", "Maren"],
  ])
    await first.fetchQuery({ queryKey: [key], queryFn: () => Promise.resolve(answer) });
  const again = async () => expect((await loaded()).getQueryData(["me"])).toBe("Maren");
  await vi.waitFor(again, PATIENCE);
}, 120_000);
afterEach(() => {
  vi.doUnmock("idb");
  vi.resetModules();
  vi.unstubAllGlobals();
});

it("puts back what a slow browser kept, however late it comes", async () => {
  const { queries, open } = await slow();
  expect(queries.getQueryData(["me"])).toBeUndefined();
  open();
  await vi.waitFor(() => expect(queries.getQueryData(["me"])).toBe("Maren"), PATIENCE);
  expect(queries.getQueryData(["vocabulary"])).toBe("words");
});

it("puts nothing back once the server has said who is there", async () => {
  const { queries, open } = await slow();
  queries.setQueryData(["me"], "Tova");
  open();
  const { openDB } = await import("idb");
  const kept = await openDB("amber-tally-answers", 1);
  await vi.waitFor(async () => expect(await kept.get("answers", "kept")).toBeDefined(), PATIENCE);
  await new Promise((later) => setTimeout(later, 0));
  kept.close();
  expect(queries.getQueryData(["me"])).toBe("Tova");
  expect(queries.getQueryData(["vocabulary"])).toBeUndefined();
});
