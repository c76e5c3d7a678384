// A value with its provenance, told by a mark and a word.

import type { Quantity, Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import css from "./Reported.module.css";
import { PROVENANCE } from "./words";

const MARKS: Record<Schemas["Provenance"], string> = {
  measured: "",
  calculated: "≈",
  entered: "✎",
};

interface Props {
  quantity: Quantity;
  value: Schemas["Reported"] | undefined;
  words: Words;
  unit?: boolean;
}

export function Reported({ quantity, value, words, unit }: Props) {
  const { dimension } = words.quantity(quantity);
  if (!value) return <span className="absent">–</span>;
  const shown = unit ? words.show(dimension, value.si) : words.bare(dimension, value.si);
  return (
    <span className={`${css.reported} ${value.from}`} title={PROVENANCE[value.from]}>
      {MARKS[value.from] && <i aria-hidden="true">{MARKS[value.from]}</i>}
      {shown}
      <span className="sr-only">, {PROVENANCE[value.from]}</span>
    </span>
  );
}
