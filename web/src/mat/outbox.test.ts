import "fake-indexeddb/auto";
import { IDBFactory } from "fake-indexeddb";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Waiting } from "./kept";

type Tab = typeof import("./outbox");

/** A tab of its own on the same browser's database. */
async function openTab(): Promise<Tab> {
  vi.resetModules();
  return import("./outbox");
}

const entry = (n: number): Waiting => ({
  id: `e${n}`,
  method: "POST",
  path: `/api/${n}`,
  body: { n },
  what: `shot ${n} set aside`,
});

/** What the server was sent, and what it answers to a path. */
let sent: string[];
let answers: (path: string) => Response | Promise<Response>;
const taken = () => new Response(null, { status: 201 });
const problem = (status: number, detail: string) =>
  new Response(JSON.stringify({ detail }), { status });

beforeEach(() => {
  vi.stubGlobal("indexedDB", new IDBFactory());
  sent = [];
  answers = taken;
  vi.stubGlobal("fetch", async (path: string) => {
    sent.push(path);
    return answers(path);
  });
});
afterEach(() => {
  vi.unstubAllGlobals();
  localStorage.clear();
});

// What hangs ends; a busy machine is no fault of a test's.
const PATIENCE = { timeout: 60_000 };

const settled = (tab: Tab) => vi.waitFor(() => expect(tab.outbox().waiting).toEqual([]), PATIENCE);

describe("the outbox", () => {
  it("sends in order, once each", async () => {
    const tab = await openTab();
    for (let n = 1; n <= 5; n++) tab.enqueue(entry(n));
    await settled(tab);
    expect(sent).toEqual([1, 2, 3, 4, 5].map((n) => `/api/${n}`));
  });

  it("shows an entry at once, before anything is written or sent", async () => {
    answers = () => new Promise(() => {});
    const tab = await openTab();
    tab.enqueue(entry(1));
    expect(tab.outbox().waiting.map((w) => w.what)).toEqual(["shot 1 set aside"]);
  });

  it("keeps what two tabs have while the server is away, and loses nothing of either", async () => {
    answers = () => Promise.reject(new TypeError("no network"));
    const [one, other] = [await openTab(), await openTab()];
    one.enqueue(entry(1));
    other.enqueue(entry(2));
    one.enqueue(entry(3));
    await vi.waitFor(() => expect(one.outbox().away || other.outbox().away).toBe(true), PATIENCE);
    answers = taken;
    sent = [];
    const later = await openTab();
    await vi.waitFor(() => {
      expect(new Set(sent)).toEqual(new Set(["/api/1", "/api/2", "/api/3"]));
      expect(sent).toHaveLength(3);
    }, PATIENCE);
    await settled(later);
  });

  it("lets only one tab send at a time", async () => {
    let together = 0;
    let most = 0;
    answers = async () => {
      together += 1;
      most = Math.max(most, together);
      await new Promise((done) => setTimeout(done, 5));
      together -= 1;
      return taken();
    };
    const [one, other] = [await openTab(), await openTab()];
    for (let n = 1; n <= 6; n++) (n % 2 ? one : other).enqueue(entry(n));
    await vi.waitFor(() => expect(sent).toHaveLength(6), PATIENCE);
    expect(most).toBe(1);
    expect(new Set(sent).size).toBe(6);
  });

  it("puts a refused entry aside with its words, and the others go on", async () => {
    answers = (path) => (path === "/api/2" ? problem(409, "the session has ended") : taken());
    const tab = await openTab();
    for (let n = 1; n <= 3; n++) tab.enqueue(entry(n));
    await settled(tab);
    expect(sent).toEqual(["/api/1", "/api/2", "/api/3"]);
    expect(tab.outbox().aside).toMatchObject([
      { what: "shot 2 set aside", aside: "the session has ended" },
    ]);
  });

  it("tries a failing entry a few times, then lets the others by", async () => {
    answers = (path) => (path === "/api/1" ? problem(500, "our fault") : taken());
    const tab = await openTab();
    tab.enqueue(entry(1));
    tab.enqueue(entry(2));
    await settled(tab);
    expect(sent.filter((path) => path === "/api/1")).toHaveLength(3);
    expect(sent.at(-1)).toBe("/api/2");
    expect(tab.outbox().aside).toMatchObject([{ aside: "our fault" }]);
  });

  it("keeps what stepped aside over a reload, until it is sent again or let go", async () => {
    answers = () => problem(422, "cell: give 1 to 9");
    const before = await openTab();
    before.enqueue(entry(1));
    before.enqueue(entry(2));
    await settled(before);
    answers = taken;
    const tab = await openTab();
    await vi.waitFor(() => expect(tab.outbox().aside).toHaveLength(2), PATIENCE);
    const [first, second] = tab.outbox().aside;
    if (!first || !second) throw new Error("two stepped aside");
    sent = [];
    await tab.tryAgain(first);
    await tab.letGo(second);
    await settled(tab);
    expect(sent).toEqual(["/api/1"]);
    expect(tab.outbox().aside).toEqual([]);
  });

  it("waits while nobody is signed in, and says so", async () => {
    answers = () => problem(401, "sign in");
    const tab = await openTab();
    tab.enqueue(entry(1));
    await vi.waitFor(() => expect(tab.outbox().away).toBe(true), PATIENCE);
    const { signedOut } = await import("../app/signed-out");
    expect(signedOut.getState().out).toBe(true);
    expect(tab.outbox().aside).toEqual([]);
    answers = taken;
    await tab.send();
    await settled(tab);
  });

  it("works in this tab's memory where the browser keeps nothing", async () => {
    vi.stubGlobal("indexedDB", {
      open: () => {
        throw new Error("not here");
      },
    });
    const tab = await openTab();
    tab.enqueue(entry(1));
    await settled(tab);
    expect(sent).toEqual(["/api/1"]);
  });

  it("takes over what an older version left", async () => {
    localStorage.setItem("amber-tally.outbox", JSON.stringify([entry(8), entry(9)]));
    const tab = await openTab();
    await vi.waitFor(() => expect(sent).toEqual(["/api/8", "/api/9"]), PATIENCE);
    await settled(tab);
    expect(localStorage.getItem("amber-tally.outbox")).toBeNull();
  });
});
