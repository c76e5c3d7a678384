// Where the carry went that this club speed could have had.

import { memo } from "react";
import type { Schemas } from "../../app/api";
import type { Words } from "../../app/vocabulary";
import { said } from "../../ui/Said";
import { WorkingLink } from "../../ui/Working";
import readCss from "./read.module.css";
import css from "./UnclaimedBars.module.css";

interface Props {
  unclaimed: Schemas["Unclaimed"] | null | undefined;
  sentence: Schemas["Sentence"];
  working: Schemas["Working"];
  words: Words;
}

export const UnclaimedBars = memo(function UnclaimedBars({
  unclaimed,
  sentence,
  working,
  words,
}: Props) {
  const rows = unclaimed
    ? [
        ...unclaimed.shares.map((share) => ({ label: share.label, carry: share.carry })),
        { label: "Flown short of its launch", carry: unclaimed.unexplained },
      ]
    : [];
  const longest = Math.max(1e-6, ...rows.map((row) => Math.abs(row.carry)));
  const percent = (carry: number) => `${(Math.abs(carry) / longest) * 50}%`;
  const signed = (carry: number) => `${carry > 0 ? "+" : ""}${words.bare("distance", carry)}`;
  return (
    <section aria-labelledby="unclaimed" className={css.unclaimed}>
      <h2 id="unclaimed" className="minor">
        Unclaimed carry
      </h2>
      <p className={readCss.unclaimedSaid}>{said(sentence, words)}</p>
      {unclaimed && (
        <>
          <table>
            <tbody>
              {rows.map(({ label, carry }) => (
                <tr key={label}>
                  <th scope="row">{label}</th>
                  <td className={css.bar} aria-hidden="true">
                    <i
                      className={carry < 0 ? css.ahead : css.behind}
                      style={{ width: percent(carry) }}
                    />
                  </td>
                  <td>
                    {signed(carry)}
                    {label === "Ball speed" && ` ${words.symbol("distance")}`}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="quiet">
            Attainable {words.show("distance", unclaimed.attainable)} in calm sea-level air, carried{" "}
            {words.bare("distance", unclaimed.actual)}, mean of {unclaimed.n}. Bars to the left:
            ahead of it already. <WorkingLink sentence={sentence} working={working} words={words} />
          </p>
        </>
      )}
    </section>
  );
});
