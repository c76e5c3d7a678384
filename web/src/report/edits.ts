// What a coach did to the draft of a page, and to one that was written before.

import { v7 as uuid } from "uuid";
import type { Schemas, Units } from "../app/api";
import type { About, Reader } from "./queries";

export type Line = Schemas["DraftLine"];
export type Part = Schemas["PagePart"];
export type CalledBy = Schemas["CalledBy"];

/** What the coach did to the draft. */
export interface Edits {
  reader?: Reader;
  units?: Units;
  title?: string;
  called?: CalledBy;
  /** Whether it was written before: what was not ticked then is not ticked now. */
  written?: boolean;
  /** Lines ticked or not, where it is otherwise than proposed. */
  ticks: Record<string, boolean>;
  /** The coach's words, by reader and line. */
  words: Record<string, string>;
  own: { id: string; part: Part; said: string }[];
}
export const NONE: Edits = { ticks: {}, words: {}, own: [] };

/** What a page is about, as it is asked for. */
export function asked({ session, from, to }: About) {
  return session ? { session } : { from, to };
}

/** How a page that was written before calls the player; by default as little as is usual. */
export function calledBy(before: string | undefined, name: string, child: boolean): CalledBy {
  if (before === undefined) return child ? "first_name" : "name";
  if (before === name && !child) return "name";
  return before === name.split(/\s+/)[0] ? "first_name" : "initials";
}

/** What a page that was written before did to its draft. */
export function editsOf(page: Schemas["Page"]): Edits {
  const edits: Edits = {
    reader: page.reader,
    units: page.units,
    title: page.title,
    written: true,
    ticks: {},
    words: {},
    own: [],
  };
  for (const line of page.lines) {
    if (line.key == null) {
      edits.own.push({ id: uuid(), part: line.part, said: line.said ?? "" });
      continue;
    }
    edits.ticks[line.key] = true;
    if (line.said != null) edits.words[`${page.reader} ${line.key}`] = line.said;
  }
  return edits;
}
