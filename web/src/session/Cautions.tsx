// What to be careful about, where full effort is asked for.

import css from "./Cautions.module.css";

export function Cautions({ said }: { said: string[] }) {
  return (
    <ul className={css.cautions} aria-label="Cautions">
      {said.map((caution) => (
        <li key={caution}>{caution}</li>
      ))}
    </ul>
  );
}
