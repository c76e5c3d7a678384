// Readings called out at the mat: digits and Enter, nothing else.

import type { Words } from "../app/vocabulary";
import css from "./RunKeypad.module.css";

const DIGITS = ["1", "2", "3", "4", "5", "6", "7", "8", "9"];

interface Props {
  typed: string;
  press: (key: string) => void;
  words: Words;
}

export function RunKeypad({ typed, press, words }: Props) {
  return (
    <section className={css.keypad} aria-label="Type a reading">
      <output className={css.typed} aria-label="Reading">
        {typed || "—"} <small>{words.symbol("speed")}</small>
      </output>
      <div className={css.keys}>
        {DIGITS.map((digit) => (
          <button type="button" key={digit} onClick={() => press(digit)}>
            {digit}
          </button>
        ))}
        <button
          type="button"
          className={css.word}
          onClick={() => press(typed ? "Backspace" : "u")}
          aria-label={typed ? "Delete the last digit" : "Undo the last swing"}
        >
          {typed ? "delete" : "undo"}
        </button>
        <button type="button" onClick={() => press("0")}>
          0
        </button>
        <button type="button" className={css.keep} onClick={() => press("Enter")}>
          Keep
        </button>
      </div>
    </section>
  );
}
