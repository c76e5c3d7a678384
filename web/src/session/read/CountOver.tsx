// How many balls were at or over a value of the coach's choice.

import { Input, Select } from "antd";
import { useState } from "react";
import type { Quantity } from "../../app/api";
import type { Words } from "../../app/vocabulary";
import { FormTrouble } from "../../ui/FormTrouble";
import { useSettled } from "../../ui/settled";
import css from "./CountOver.module.css";
import { type SessionRead, useOver } from "./queries";

interface Props {
  read: SessionRead;
  quantities: Quantity[];
  words: Words;
}

/** How long typing must rest before balls are counted. */
const RESTS_MS = 250;

export function CountOver({ read, quantities, words }: Props) {
  const [chosen, setChosen] = useState<Quantity>();
  const [typed, setTyped] = useState("");
  const quantity = chosen ?? quantities[0];
  const value = useSettled(typed, RESTS_MS);
  const dimension = quantity && words.quantity(quantity).dimension;
  const told = useOver(read, quantity, value, dimension ? words.suffix(dimension) : "");
  if (!quantity || !dimension) return null;
  return (
    <div className={css.over}>
      <label>
        <span>Balls at or over</span>
        <Input
          aria-label="Balls at or over"
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
          inputMode="decimal"
          suffix={words.symbol(dimension)}
        />
      </label>
      <Select
        aria-label="Value that is counted"
        variant="borderless"
        popupMatchSelectWidth={false}
        value={quantity}
        onChange={setChosen}
        options={quantities.map((q) => ({ value: q, label: words.quantity(q).label }))}
      />
      <p role="status" className={css.told}>
        {told.data && value.trim() !== "" && (
          <>
            <b>{told.data.over}</b> of {told.data.of}
          </>
        )}
      </p>
      {value.trim() !== "" && <FormTrouble error={told.error} />}
    </div>
  );
}
