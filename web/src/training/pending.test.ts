import { expect, it } from "vitest";
import type { Schemas } from "../app/api";
import type { Waiting } from "../mat/kept";
import { tallied, unread } from "./pending";

const of = { swung: null, club: null, gentle: false };
const set = (asked: number, done = 0, skipped = false): Schemas["RunSet"] => ({
  label: "light",
  of,
  full: true,
  asked,
  done,
  skipped,
  held: false,
});
const report = (sets: Schemas["RunSet"][], now: number | null = 0): Schemas["RunReport"] => ({
  sets,
  strokes: [],
  now,
  to_go: 0,
});
const typed = (shot: string, value: number): Waiting => ({
  id: shot,
  method: "PUT",
  path: `/api/v1/sessions/s/shots/${shot}/entries`,
  body: { values: [{ quantity: "club_speed", given: { value, unit: "mph" } }] },
  what: `club speed ${value}`,
});
const aside = (shot: string): Waiting => ({
  id: `mark-${shot}`,
  method: "POST",
  path: `/api/v1/sessions/s/shots/${shot}/marks`,
  body: { act: { kind: "set_aside" } },
  what: "taken back",
});
const tally = (told: Schemas["RunReport"], waiting: Waiting[]) =>
  tallied("s", told, waiting, (value) => value);

it("goes from set to set without the server, leaving out what is skipped", () => {
  const sets = [set(2, 1), set(3, 0, true), set(2)];
  const told = tally(report(sets), [typed("a", 114), typed("b", 115)]);
  expect(told.strokes.map(({ set, waiting }) => [set, waiting])).toEqual([
    [0, true],
    [2, true],
  ]);
  expect(told.now).toBe(2);
  expect(tally(report(sets), [typed("a", 114), typed("b", 1), typed("c", 1)]).now).toBe(undefined);
});

it("counts a swing that was taken back no more, and asks for it again", () => {
  const told = tally(report([set(1), set(1)]), [typed("a", 1115), aside("a")]);
  expect(told.strokes[0]).toMatchObject({ aside: true, speed: 1115 });
  expect([told.now, told.done[0]]).toEqual([0, 0]);
});

it("shows nothing twice that the server knows already", () => {
  const known = report([set(2, 1)]);
  known.strokes = [{ shot: "a", set: 0, speed: 51, aside: false, beat: false }];
  const told = tally(known, [typed("a", 114)]);
  expect(told.strokes).toHaveLength(1);
  expect(told.strokes[0]?.waiting).toBe(false);
});

it("loses no swing that the server took and did not tell of yet", () => {
  const nothing = { waiting: [], aside: [] };
  const first = unread("s", report([set(3)]), { ...nothing, waiting: [typed("a", 114)] }, []);
  expect(first).toHaveLength(1);
  // Sent, and the server is gone before the page reads it.
  const gone = unread("s", report([set(3)]), nothing, first);
  expect(tally(report([set(3)]), gone).strokes).toHaveLength(1);
  // Refused, it is no swing any more; read, it is the server's.
  expect(unread("s", report([set(3)]), { waiting: [], aside: first }, first)).toEqual([]);
  const known = report([set(3, 1)]);
  known.strokes = [{ shot: "a", set: 0, speed: 51, aside: false, beat: false }];
  expect(unread("s", known, nothing, first)).toEqual([]);
});

it("leaves what another session waits for alone", () => {
  const other = { ...typed("a", 114), path: "/api/v1/sessions/t/shots/a/entries" };
  expect(tally(report([set(2)]), [other]).strokes).toHaveLength(0);
});
