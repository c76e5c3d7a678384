// A hole as it is typed: length, fairway, what waits beside and across it.

import { Input, Select } from "antd";
import { useState } from "react";
import { ApiError, type Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { FormTrouble } from "../ui/FormTrouble";
import { typed as number } from "../ui/Measured";
import { fromAddress, toAddress } from "../ui/typed-address";
import css from "./HoleForm.module.css";

export type Trouble = Schemas["TroubleKind"] | "";

/** Everything as typed, in the coach's unit of distance. */
export interface HoleTyped {
  length: string;
  width: string;
  left: Trouble;
  leftFrom: string;
  right: Trouble;
  rightFrom: string;
  across: Trouble;
  acrossFrom: string;
  acrossTo: string;
}

export const TROUBLES: Record<Schemas["TroubleKind"], string> = {
  trees: "trees",
  sand: "sand",
  water: "water",
  out_of_bounds: "out of bounds",
};

const KEYS = [
  "length",
  "width",
  "left",
  "leftFrom",
  "right",
  "rightFrom",
  "across",
  "acrossFrom",
  "acrossTo",
] as const;
const KINDS: ReadonlySet<string> = new Set(["left", "right", "across"]);

/** The hole as the address holds it, piece by piece. */
export function holeToAddress(hole: HoleTyped, words: Words): string {
  return KEYS.map((key) =>
    KINDS.has(key) ? hole[key] : toAddress(hole[key], "distance", words),
  ).join("|");
}

export function holeFromAddress(text: string | null, words: Words): HoleTyped {
  const usual = words.suffix("distance") === "yd" ? ["400", "32"] : ["365", "30"];
  const parts = text?.split("|") ?? usual;
  const at = (i: number) => fromAddress(parts[i] ?? "", "distance", words);
  const kind = (i: number) => (parts[i] ?? "") as Trouble;
  return {
    length: at(0),
    width: at(1),
    left: kind(2),
    leftFrom: at(3),
    right: kind(4),
    rightFrom: at(5),
    across: kind(6),
    acrossFrom: at(7),
    acrossTo: at(8),
  };
}

export function holeAsked(hole: HoleTyped, words: Words): Schemas["HoleAsked"] {
  const unit = words.suffix("distance");
  const given = (text: string) => ({ value: number(text), unit });
  const side = (kind: Trouble, from: string) => (kind ? { kind, from: given(from) } : null);
  return {
    length: given(hole.length),
    fairway_width: given(hole.width),
    left: side(hole.left, hole.leftFrom),
    right: side(hole.right, hole.rightFrom),
    across: hole.across
      ? { kind: hole.across, from: given(hole.acrossFrom), to: given(hole.acrossTo) }
      : null,
  };
}

interface Props {
  typed: HoleTyped;
  onTyped: (typed: HoleTyped) => void;
  words: Words;
  error: Error | null;
}

export function HoleForm({ typed: first, onTyped, words, error }: Props) {
  const unit = words.symbol("distance");
  // What is typed stands here at once; the address follows.
  const [typed, setTyped] = useState(first);
  const set = (part: Partial<HoleTyped>) => {
    setTyped({ ...typed, ...part });
    onTyped({ ...typed, ...part });
  };
  const field = (label: string, key: keyof HoleTyped) => (
    <label>
      <span>{label}</span>
      <Input
        aria-label={label}
        value={typed[key]}
        onChange={(e) => set({ [key]: e.target.value })}
        inputMode="decimal"
        suffix={unit}
      />
    </label>
  );
  const kind = (label: string, key: "left" | "right" | "across") => (
    <label>
      <span>{label}</span>
      <Select<Trouble>
        aria-label={label}
        value={typed[key]}
        onChange={(value) => set({ [key]: value })}
        popupMatchSelectWidth={false}
        options={[
          { value: "", label: "nothing" },
          ...Object.entries(TROUBLES).map(([value, name]) => ({
            value: value as Trouble,
            label: name,
          })),
        ]}
      />
    </label>
  );
  return (
    <fieldset className={`hole-form ${css.holeForm}`}>
      <legend>The hole</legend>
      {field("Length", "length")}
      {field("Fairway width", "width")}
      {kind("On the left", "left")}
      {typed.left && field("Left from the middle", "leftFrom")}
      {kind("On the right", "right")}
      {typed.right && field("Right from the middle", "rightFrom")}
      {kind("Across", "across")}
      {typed.across && field("Across from", "acrossFrom")}
      {typed.across && field("Across to", "acrossTo")}
      {error instanceof ApiError && <FormTrouble error={error} />}
    </fieldset>
  );
}
