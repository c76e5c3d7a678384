// The sets of a session: made, on, to come.

import { useEffect, useRef } from "react";
import type { Words } from "../app/vocabulary";
import type { Tally } from "./pending";
import type { RunView } from "./queries";
import css from "./RunSets.module.css";

export function RunSets({ view, tally, words }: { view: RunView; tally: Tally; words: Words }) {
  const { sets, other_side } = view.report;
  const on = useRef<HTMLLIElement>(null);
  // The list alone moves: the page stays where the set and the keys are.
  useEffect(() => {
    const list = on.current?.parentElement;
    if (tally.now === undefined || !on.current || !list) return;
    list.scrollTop = on.current.offsetTop - list.offsetTop - list.clientHeight / 3;
  }, [tally.now]);
  const next = tally.next === undefined ? undefined : sets[tally.next];
  return (
    <>
      <p className={css.then}>
        {next ? (
          <>
            <span className="quiet">then</span> {next.label}
          </>
        ) : (
          <span className="quiet">the last set</span>
        )}
      </p>
      <ol className={css.sets} aria-label="Sets">
        {sets.map((set, at) => {
          const done = tally.done[at] ?? 0;
          const state = set.skipped ? "left out" : set.held ? "held" : `${done} of ${set.asked}`;
          return (
            <li
              key={at}
              ref={at === tally.now ? on : undefined}
              aria-current={at === tally.now ? "step" : undefined}
              className={set.skipped || set.held ? css.out : undefined}
            >
              <span>{set.label}</span>
              <b>{set.best == null ? "" : words.bare("speed", set.best)}</b>
              <small>{state}</small>
            </li>
          );
        })}
      </ol>
      {other_side != null && (
        <p className="quiet">
          The other side is {Math.round(Math.abs(other_side) * 100)} %{" "}
          {other_side < 0 ? "faster" : "slower"}.
        </p>
      )}
    </>
  );
}
