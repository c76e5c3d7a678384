// The keys of each page, which a coach may change or switch off: single keys get in the way of
// whoever speaks to the computer.

import { createStore, useStore } from "zustand";

/** Where a key does something. */
export type Where = "everywhere" | "hit" | "run";

export interface Shortcut {
  id: string;
  where: Where;
  /** As we set it. */
  key: string;
  label: string;
}

const of = (where: Where, keys: [id: string, key: string, label: string][]): Shortcut[] =>
  keys.map(([id, key, label]) => ({ id, where, key, label }));

export const SHORTCUTS: Shortcut[] = [
  ...of("everywhere", [
    ["find", "/", "find anything"],
    ["help", "?", "keys and words"],
  ]),
  ...of("hit", [
    ["set_aside", "x", "set this ball aside"],
    ["missed_feel", "m", "it missed its feel"],
    ["undo", "u", "undo the last act"],
    ["keep", "k", "keep a doubtful ball"],
    ["next", "n", "next block"],
    ["pause", "p", "pause, resume"],
    ["enter", "e", "enter a ball by hand"],
    ["correct", "c", "correct this ball"],
    ["give", "b", "give it to another block"],
  ]),
  ...of("run", [
    ["run_undo", "u", "take the last swing back"],
    ["run_repeat", "r", "the set once more"],
    ["run_skip", "s", "leave the set out"],
    ["run_pause", "p", "pause, go on"],
  ]),
];

/** Keys that are no single letters, or stay as they are. */
export const FIXED: Record<Where, [keys: string, label: string][]> = {
  everywhere: [["Esc", "close what is open"]],
  hit: [
    ["1 – 9", "strike on the face, as on a number pad"],
    ["← →", "the ball before, the ball after"],
  ],
  run: [
    ["0 – 9, Enter", "the speed read off the radar"],
    ["Esc", "stop"],
  ],
};

interface Chosen {
  off: boolean;
  /** Keys that the coach changed, by what they do. */
  own: Record<string, string>;
}

const KEPT = "amber-tally.keys";

function kept(): Chosen {
  try {
    const { off, own } = JSON.parse(localStorage.getItem(KEPT) ?? "{}");
    return { off: off === true, own: typeof own === "object" && own ? own : {} };
  } catch {
    return { off: false, own: {} };
  }
}

const chosen = createStore<Chosen>(kept);
chosen.subscribe((state) => localStorage.setItem(KEPT, JSON.stringify(state)));
window.addEventListener("storage", (event) => {
  if (event.key === KEPT) chosen.setState(kept(), true);
});

const keyIn = ({ own }: Chosen, { id, key }: Shortcut) => own[id] ?? key;

/** The keys as they are chosen, and how to choose otherwise. */
export function useShortcuts() {
  const state = useStore(chosen);
  return {
    off: state.off,
    switchOff: (off: boolean) => chosen.setState({ off }),
    keyOf: (shortcut: Shortcut) => keyIn(state, shortcut),
    changed: Object.keys(state.own).length > 0,
    reset: () => chosen.setState({ own: {} }),
    /** Gives it another key; says what has that key already, and then changes nothing. */
    change: (shortcut: Shortcut, key: string): Shortcut | undefined => {
      const rival = SHORTCUTS.find(
        (other) =>
          other.id !== shortcut.id &&
          (other.where === shortcut.where ||
            other.where === "everywhere" ||
            shortcut.where === "everywhere") &&
          keyIn(state, other) === key,
      );
      if (!rival) chosen.setState({ own: { ...state.own, [shortcut.id]: key } });
      return rival;
    },
  };
}

/** The key of what it does, as it is shown; none while single keys are off. */
export function useKeyOf(id: string): string | undefined {
  const state = useStore(chosen);
  const shortcut = SHORTCUTS.find((one) => one.id === id);
  return state.off || !shortcut ? undefined : keyIn(state, shortcut).toUpperCase();
}

/** Whether single keys do anything. */
export const keysAreOn = () => !chosen.getState().off;

/** The same, told anew when it changes. */
export const useKeysAreOn = () => !useStore(chosen).off;

/** What a key that was pressed is to do here. */
export function asked(where: Where, key: string): string | undefined {
  const state = chosen.getState();
  if (state.off) return undefined;
  const pressed = key.length === 1 ? key.toLowerCase() : key;
  const here = SHORTCUTS.filter((one) => one.where === where);
  return here.find((one) => keyIn(state, one) === pressed)?.id;
}
