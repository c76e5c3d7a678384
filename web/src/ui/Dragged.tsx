// A number to drag or to type. What is typed stays as typed; out of range it is
// marked and goes nowhere.

import { Input, Slider } from "antd";
import { useId, useState } from "react";
import type { Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import css from "./Dragged.module.css";

interface Props {
  input: Schemas["Input"];
  /** In the input's own unit. */
  value: number;
  onChange: (value: number) => void;
  words: Words;
  /** A narrower range for the slider alone. */
  slide?: readonly [number, number];
}

export function Dragged({ input, value, onChange, words, slide }: Props) {
  const id = useId();
  const { dimension } = input;
  const shown = (v: number) =>
    dimension ? words.bare(dimension, v) : String(Number(v.toFixed(3)));
  const unit = dimension ? words.symbol(dimension) : input.unit;
  const [typed, setTyped] = useState<string>();
  const [least, most] = [input.from, input.to];
  const wrong = typed !== undefined && readTyped(typed, input, words) === undefined;
  return (
    <div className={css.dragged}>
      <label htmlFor={id}>{input.label}</label>
      <Slider
        min={slide?.[0] ?? least}
        max={slide?.[1] ?? most}
        step={input.step}
        value={value}
        tooltip={{ open: false }}
        ariaLabelForHandle={`${input.label}, drag`}
        onChange={(next: number) => {
          setTyped(undefined);
          onChange(next);
        }}
      />
      <Input
        id={id}
        value={typed ?? shown(value)}
        status={wrong ? "error" : undefined}
        aria-invalid={wrong}
        aria-describedby={wrong ? `${id}-wrong` : undefined}
        inputMode="decimal"
        suffix={unit.startsWith("(") ? undefined : unit}
        onChange={(e) => {
          setTyped(e.target.value);
          const next = readTyped(e.target.value, input, words);
          if (next !== undefined) onChange(next);
        }}
        onBlur={() => {
          if (!wrong) setTyped(undefined);
        }}
      />
      {wrong && (
        <p className={css.wrong} id={`${id}-wrong`} role="alert">
          “{typed}” is not used: give a number from {shown(least)} to {shown(most)}
          {unit.startsWith("(") ? "" : ` ${unit}`}.
        </p>
      )}
    </div>
  );
}

/** What was typed, in the input's own unit; nothing when it is no number in range. */
function readTyped(text: string, input: Schemas["Input"], words: Words): number | undefined {
  const plain = text
    .trim()
    .replaceAll("−", "-")
    .replace(/,(?=\d{3}(\D|$))/g, "");
  const number = Number(plain.replace(",", ".") || "none");
  const size = input.dimension ? 1 / words.scaled(input.dimension, 1) : 1;
  const value = number * size;
  return value >= input.from - 1e-9 && value <= input.to + 1e-9 ? value : undefined;
}

export function inputOf(words: Words, key: string): Schemas["Input"] {
  const found = words.vocabulary.inputs.find((input) => input.key === key);
  if (!found) throw new Error(`no input ${key}`);
  return found;
}
