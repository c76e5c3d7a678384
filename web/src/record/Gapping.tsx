// The bag of a player: the conclusion, the clubs on one line, and what stands behind them.

import { useState } from "react";
import type { Words } from "../app/vocabulary";
import { CALM, type Conditions } from "../reach/address";
import { ConditionsForm } from "../reach/ConditionsForm";
import { VerdictHead } from "../trials/VerdictHead";
import { FormTrouble } from "../ui/FormTrouble";
import { Loading } from "../ui/Notice";
import { BagChanges } from "./BagChanges";
import { BagNotes, BagStrip, BagTable, CardLink } from "./BagStrip";
import css from "./Gapping.module.css";
import { useGapping } from "./queries";

export function Gapping({ player, words }: { player: string; words: Words }) {
  const [air, setAir] = useState<Conditions>(CALM);
  const found = useGapping(player, air);
  if (!found.data) return found.isError ? <FormTrouble error={found.error} /> : <Loading />;
  const { read, not_hit, doubled } = found.data;
  const name = (club: string) => words.club(club).toLowerCase();
  if (!read)
    return (
      <p className="quiet">
        No club has a carry yet. A session through the bag hits each a few times, there and back,
        and tells gaps, overlaps and what to do about them.
      </p>
    );
  return (
    <section aria-label="Gapping" className={css.gapping}>
      <VerdictHead verdict={read.verdict} words={words} />
      {found.isError && <FormTrouble error={found.error} />}
      <BagStrip read={read} words={words} />
      <p className={css.foot}>
        <span className="quiet">
          Mean carry in {words.symbol("distance")} with its interval; the bar holds eight balls in
          ten.
        </span>
        <CardLink player={player} />
      </p>
      <ConditionsForm conditions={air} onChange={setAir} words={words} airOnly />
      <BagNotes read={read} words={words} />
      {not_hit.length > 0 && (
        <p className={css.missing}>Noted and not hit yet: {not_hit.map(name).join(", ")}.</p>
      )}
      {doubled.length > 0 && (
        <p className={css.missing}>
          Two are noted of {doubled.map(name).join(", ")}: shots know the kind alone, so both are
          told together.
        </p>
      )}
      <details className={css.more}>
        <summary>All figures</summary>
        <BagTable read={read} words={words} />
      </details>
      <BagChanges player={player} words={words} />
    </section>
  );
}
