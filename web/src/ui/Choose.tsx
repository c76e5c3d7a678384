// One of a few, by one tap.

import css from "./Choose.module.css";

interface Props<T extends string> {
  legend: string;
  /** Each with what it is called. */
  of: readonly (readonly [T, string])[];
  value: T;
  choose: (value: T) => void;
}

export function Choose<T extends string>({ legend, of, value, choose }: Props<T>) {
  return (
    <fieldset className={css.choose}>
      <legend className="sr-only">{legend}</legend>
      {of.map(([key, label]) => (
        <button type="button" key={key} aria-pressed={key === value} onClick={() => choose(key)}>
          {label}
        </button>
      ))}
    </fieldset>
  );
}
