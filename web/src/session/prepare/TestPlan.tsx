// How many balls it takes to see the difference that matters.

import { Input } from "antd";
import { ApiError, type Quantity } from "../../app/api";
import type { Words } from "../../app/vocabulary";
import { FormTrouble } from "../../ui/FormTrouble";
import { useHeld } from "../../ui/held";
import { typed } from "../../ui/Measured";
import type { PlannedRow } from "./PlanTable";
import { useTestPlan } from "./queries";
import css from "./TestPlan.module.css";

interface Props {
  player: string;
  club: string;
  quantity: Quantity;
  rows: PlannedRow[];
  take: (rows: PlannedRow[]) => void;
  /** The difference that matters, as typed. */
  difference: string;
  onDifference: (difference: string) => void;
  words: Words;
}

export function TestPlan(props: Props) {
  const { player, club, quantity, rows, take, difference, onDifference, words } = props;
  const { dimension, label } = words.quantity(quantity);
  const named = `Difference in ${label.toLowerCase()} that matters`;
  const unit = words.suffix(dimension);
  const found = useTestPlan(player, {
    club,
    quantity,
    difference: difference.trim() ? { value: typed(difference), unit } : null,
    blocks: rows.map((row) => row.plan),
  });
  const told = useHeld(found.data);
  const needed = told?.needed;
  return (
    <div className={css.testPlan}>
      <label>
        <span>{named}</span>
        <Input
          aria-label={named}
          value={difference}
          placeholder={needed ? words.field(dimension, needed.difference) : undefined}
          onChange={(e) => onDifference(e.target.value)}
          inputMode="decimal"
          suffix={words.symbol(dimension)}
        />
      </label>
      <p role="status">
        {needed?.each != null && (
          <>
            <b>{needed.each} balls of each</b> show it {Math.round(needed.power * 100)} times of
            100, at a spread of {words.show(dimension, needed.spread)} (n {told?.from_balls}).{" "}
            <button
              type="button"
              className="link"
              onClick={() =>
                take(rows.map((row, i) => ({ ...row, plan: told?.planned[i] ?? row.plan })))
              }
            >
              Plan so many
            </button>
          </>
        )}
        {needed && needed.each == null && (
          <>
            Even {told?.most} balls of each would hardly show it: the spread is{" "}
            {words.show(dimension, needed.spread)}.
          </>
        )}
        {told && !needed && (
          <>
            The spread with this club is not known yet; the first session tells how many balls it
            takes.
          </>
        )}
      </p>
      {found.error instanceof ApiError && <FormTrouble error={found.error} />}
    </div>
  );
}
