// Where the speed went, step by step from the swing to the carry.

import type { Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { signed } from "../ui/signed";
import css from "./RecordTab.module.css";

const STEPS: Record<Schemas["StepKind"], string> = {
  implement: "Without a ball",
  all_out: "All-out with the club",
  usual: "Usual club speed",
  ball_speed: "Ball speed",
  carry: "Carry",
};

export function Went({ steps, words }: { steps: Schemas["Step"][]; words: Words }) {
  if (steps.length < 2) return null;
  return (
    <>
      <h2 className={`minor ${css.next}`}>Where the speed went</h2>
      <ol className={css.steps}>
        {steps.map(({ kind, quantity, change, arrived }) => {
          const { dimension } = words.quantity(quantity);
          const share = (of: number) => `${Math.round(100 * of)} %`.replace("-", "−");
          return (
            <li key={kind}>
              <span>{STEPS[kind]}</span>
              <b>
                {signed(change.value, dimension, words)} {words.suffix(dimension)}
              </b>
              <small>
                {arrived
                  ? `${share(arrived.value)} of what the step before promised (${share(arrived.low)} to ${share(arrived.high)})`
                  : `${signed(change.low, dimension, words)} to ${signed(change.high, dimension, words)}`}
              </small>
            </li>
          );
        })}
      </ol>
    </>
  );
}
