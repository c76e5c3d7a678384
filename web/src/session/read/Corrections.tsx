// A value put right by hand; the old one stays in the record.

import { Button, Input, Select } from "antd";
import { type FormEvent, useState } from "react";
import type { Quantity, Schemas } from "../../app/api";
import type { Words } from "../../app/vocabulary";
import { atTheMat } from "../../mat/acts";
import { typed } from "../../ui/Measured";
import css from "./Corrections.module.css";

interface Props {
  session: string;
  shot: Schemas["ShotView"];
  words: Words;
}

export function Corrections({ session, shot, words }: Props) {
  const [quantity, setQuantity] = useState<Quantity>("club_speed");
  const [text, setText] = useState("");
  const { label, dimension } = words.quantity(quantity);
  const value = typed(text);
  const mat = atTheMat(session);
  const entered = shot.reading[quantity]?.from === "entered";
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (value === null) return;
    mat.enter(
      shot.id,
      [{ quantity, given: { value, unit: words.suffix(dimension) } }],
      `shot ${shot.number}: ${label.toLowerCase()} ${text}`,
    );
    setText("");
  };
  return (
    <>
      <h3>Put a value right</h3>
      <form className={css.correction} onSubmit={submit}>
        <Select
          aria-label="Value to put right"
          value={quantity}
          onChange={setQuantity}
          popupMatchSelectWidth={false}
          options={words.vocabulary.quantities.map((q) => ({ value: q.key, label: q.label }))}
        />
        <Input
          aria-label={`${label}, ${words.symbol(dimension)}`}
          value={text}
          suffix={words.symbol(dimension)}
          onChange={(e) => setText(e.target.value)}
          inputMode="decimal"
        />
        <Button htmlType="submit" disabled={value === null}>
          Save
        </Button>
        {entered && (
          <button
            type="button"
            className="link"
            onClick={() =>
              mat.enter(
                shot.id,
                [{ quantity, given: null }],
                `shot ${shot.number}: ${label.toLowerCase()} taken back`,
              )
            }
          >
            Take the entered {label.toLowerCase()} back
          </button>
        )}
      </form>
    </>
  );
}
