// Where on the face the balls were struck, and what a strike off the middle cost.

import type { Quantity, Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { said } from "./Said";
import css from "./StrikeCosts.module.css";
import { signed } from "./signed";
import { TableRoom } from "./TableRoom";

export function StrikeCosts({ face, words }: { face: Schemas["FaceRead"]; words: Words }) {
  if (face.strikes.of === 0 && face.costs.length === 0) return null;
  return (
    <section aria-labelledby="on-the-face" className={css.face}>
      <h2 id="on-the-face" className="minor">
        On the face
      </h2>
      {face.costs[0] && <p className={css.said}>{said(face.costs[0].sentence, words)}</p>}
      <div className={css.costs}>
        {face.strikes.of > 0 && (
          <div>
            <Ninths strikes={face.strikes} />
            <p className="quiet">toe at the left</p>
          </div>
        )}
        {face.costs.length > 0 ? (
          <Tolls costs={face.costs} words={words} />
        ) : (
          <p>All of them from the middle.</p>
        )}
      </div>
    </section>
  );
}

const TOLD: Quantity[] = ["carry", "ball_speed", "launch_angle", "spin_rate"];
const SIDES: Record<Schemas["Side"], string> = {
  low: "Low",
  high: "High",
  toe: "Toe",
  heel: "Heel",
};

/** What each side cost beyond the middle; by the model where own balls are too few. */
function Tolls({ costs, words }: { costs: Schemas["StrikeCost"][]; words: Words }) {
  const known = TOLD.filter((q) => costs.some((cost) => toll(cost, q)));
  const modelled = costs.some((cost) => cost.by_model);
  return (
    <TableRoom of="What strikes cost">
      <table className="figures">
        <thead>
          <tr>
            <th scope="col">against the middle</th>
            {known.map((quantity) => (
              <th key={quantity} scope="col">
                {words.quantity(quantity).label.toLowerCase()}
                <small> {words.symbol(words.quantity(quantity).dimension)}</small>
              </th>
            ))}
            <th scope="col">n</th>
          </tr>
        </thead>
        <tbody>
          {costs.map((cost) => (
            <tr key={cost.side}>
              <th scope="row">{SIDES[cost.side]}</th>
              {known.map((quantity) => {
                const told = toll(cost, quantity);
                return (
                  <td key={quantity} className={cost.by_model ? "second" : undefined}>
                    {told ? (
                      <>
                        {cost.by_model && "≈ "}
                        {signed(told.difference, words.quantity(quantity).dimension, words)}
                      </>
                    ) : (
                      "–"
                    )}
                  </td>
                );
              })}
              <td>{cost.n}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {modelled && <p className="quiet">≈ by the model: own balls do not tell yet.</p>}
    </TableRoom>
  );
}

function toll(cost: Schemas["StrikeCost"], quantity: Quantity): Schemas["Toll"] | undefined {
  const tolls = cost.by_model ? cost.model : cost.own;
  return tolls.find((told) => told.quantity === quantity);
}

/** How many balls met each ninth of the face. */
export function Ninths({ strikes }: { strikes: Schemas["Strikes"] }) {
  const rows = ["high", "middle", "low"] as const;
  return (
    <span className={css.ninths}>
      {strikes.ninths.flatMap((row, r) =>
        row.map((n, c) => (
          <i
            key={`${rows[r]} ${["toe", "middle", "heel"][c]}`}
            className={n === 0 ? css.none : undefined}
          >
            {n}
          </i>
        )),
      )}
    </span>
  );
}
