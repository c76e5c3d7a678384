// Which numbers are shown while balls are hit, the greatest first.

import { Select } from "antd";
import type { Quantity } from "../app/api";
import type { Words } from "../app/vocabulary";

interface Props {
  id?: string;
  numbers: Quantity[];
  choose: (numbers: Quantity[]) => void;
  words: Words;
}

export function NumbersChoice({ id, numbers, choose, words }: Props) {
  return (
    <Select<Quantity[]>
      id={id}
      aria-label="Numbers shown while hitting, the greatest first"
      mode="multiple"
      style={{ width: "100%" }}
      maxCount={words.vocabulary.most_numbers}
      value={numbers}
      onChange={choose}
      optionFilterProp="label"
      options={words.vocabulary.quantities.map((q) => ({ value: q.key, label: q.label }))}
    />
  );
}
