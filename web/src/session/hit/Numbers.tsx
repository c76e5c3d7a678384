// The numbers of a shot: the great one with its judgement, and those beside it.

import type { Quantity, Schemas } from "../../app/api";
import type { Words } from "../../app/vocabulary";
import { PROVENANCE } from "../../ui/words";
import { MET } from "./at";
import css from "./HitPage.module.css";
import type { LiveShot } from "./queries";

/** A shot by its shown values. */
type Shown = Pick<LiveShot, "values">;

interface ValueProps {
  quantity: Quantity | undefined;
  shot: Shown | undefined;
  words: Words;
}

export function Great({ quantity, shot, words }: ValueProps) {
  const value = quantity && shot?.values[quantity];
  return (
    <p className={css.greatNumber}>
      {quantity && value ? words.bare(words.quantity(quantity).dimension, value.si) : "–"}
    </p>
  );
}

export function GreatWords(props: {
  quantity: Quantity;
  view: { shots: Shown[]; report: Schemas["HitReport"] };
  index: number;
  words: Words;
}) {
  const { quantity, view, index, words } = props;
  const { dimension, label } = words.quantity(quantity);
  const shot = view.shots[index];
  const judged = view.report.shots[index];
  const value = shot?.values[quantity];
  const met = judged?.met && MET[judged.met];
  const beside = judged?.beside_last && MET[judged.beside_last];
  return (
    <>
      <span>
        {words.symbol(dimension)} {label.toLowerCase()}
      </span>
      {value && value.from !== "measured" && (
        <span className="quiet">{PROVENANCE[value.from]}</span>
      )}
      {met && (
        <b className={`${css.met} ${judged.met}`}>
          <i aria-hidden="true">{met[0]}</i> {met[1]}
        </b>
      )}
      {!met && beside && (
        <b className={`${css.met} ${judged.beside_last}`}>
          <i aria-hidden="true">{beside[0]}</i>{" "}
          {judged.beside_last === "met" ? "as last time" : `${beside[1]} last time’s range`}
        </b>
      )}
      {view.report.beaten === index && <b className={css.met}>beats last time’s best</b>}
      {judged?.standing === "set_aside" && <b className={css.aside}>set aside</b>}
    </>
  );
}

export function Other({ quantity, shot, words }: ValueProps & { quantity: Quantity }) {
  const { dimension, label } = words.quantity(quantity);
  const value = shot?.values[quantity];
  const sided = quantity === "side" || quantity === "launch_direction" || quantity === "spin_axis";
  const shown = value && words.show(dimension, sided ? Math.abs(value.si) : value.si);
  const way = !value || !sided || value.si === 0 ? "" : value.si < 0 ? " left" : " right";
  return (
    <div>
      <dd>{shown ? `${shown}${way}` : "–"}</dd>
      <dt>
        {label.toLowerCase()}
        {value && value.from !== "measured" && `, ${PROVENANCE[value.from]}`}
      </dt>
    </div>
  );
}
