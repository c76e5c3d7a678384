// The bag then and now: all clubs at once, between two days or two stretches of days.

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api, type Dimension, type Schemas } from "../app/api";
import { keys } from "../app/keys";
import type { Words } from "../app/vocabulary";
import { DayField } from "../ui/DayField";
import { FormTrouble } from "../ui/FormTrouble";
import { said } from "../ui/Said";
import { signed } from "../ui/signed";
import { TableRoom } from "../ui/TableRoom";
import css from "./BagChanges.module.css";

type Days = string[];

export function BagChanges({ player, words }: { player: string; words: Words }) {
  const [then, setThen] = useState<Days>();
  const [now, setNow] = useState<Days>();
  const query = {
    ...(then && { then_from: then[0], then_to: then[1] }),
    ...(now && { now_from: now[0], now_to: now[1] }),
  };
  const found = useQuery({
    queryKey: keys.player.bagChanges(player, query),
    queryFn: () =>
      answered(
        api.GET("/api/v1/players/{player}/gapping/changes", {
          params: { path: { player }, query },
        }),
      ),
    placeholderData: (before) => before,
  });
  const told = found.data;
  // Nothing to hold against each other, and nothing was asked for.
  if (!found.isError && !then && !now && !told?.changes) return null;
  return (
    <section aria-label="Then and now">
      <h2 className="minor">Then and now</h2>
      <p className={css.times}>
        <Pick label="Then" days={then ?? told?.then} pick={setThen} />
        <Pick label="Now" days={now ?? told?.now} pick={setNow} />
      </p>
      {found.isError && <FormTrouble error={found.error} />}
      {told?.changes ? (
        <Told changes={told.changes} words={words} />
      ) : (
        <p className="quiet">No club was hit as usual in both.</p>
      )}
    </section>
  );
}

function Pick(props: { label: string; days?: Days | null; pick: (days: Days) => void }) {
  const { label, days, pick } = props;
  return (
    <span className={css.pick}>
      <b>{label}</b>
      <DayField
        aria-label={`${label}, first day`}
        value={days?.[0] ?? ""}
        onChange={(day) => day && pick([day, last(day, days?.[1])])}
      />
      to
      <DayField
        aria-label={`${label}, last day`}
        value={days?.[1] ?? ""}
        onChange={(day) => day && pick([days?.[0] ?? day, day])}
      />
    </span>
  );
}

/** A stretch whose first day moves behind its last becomes that one day. */
const last = (first: string, was?: string) => (was && was >= first ? was : first);

function Told({ changes, words }: { changes: Schemas["BagChanges"]; words: Words }) {
  const gap = (gaps: number[] | null | undefined, i: number) =>
    gaps?.[i] == null ? "–" : words.bare("distance", gaps[i]);
  return (
    <>
      <p className={css.said}>{said(changes.sentence, words)}</p>
      <p className="quiet">{said(changes.open, words)}</p>
      <TableRoom of="Table">
        <table className="figures">
          <thead>
            <tr>
              <th scope="col">Club</th>
              <th scope="col">club speed, {words.symbol("speed")}</th>
              <th scope="col">smash</th>
              <th scope="col">carry, {words.symbol("distance")}</th>
              <th scope="col">to the next club</th>
            </tr>
          </thead>
          <tbody>
            {changes.clubs.map((club) => (
              <tr key={club.club}>
                <th scope="row">{words.club(club.club)}</th>
                <Value told={club.club_speed} dimension="speed" words={words} />
                <Value told={club.smash} dimension="ratio" words={words} />
                <Value told={club.carry} dimension="distance" words={words} />
                <td>
                  {gap(club.gap, 0)} → {gap(club.gap, 1)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </TableRoom>
      <p className="quiet">
        In bold what stands among all the changes told here; the others may be chance.
      </p>
    </>
  );
}

function Value(props: { told?: Schemas["ThenNow"] | null; dimension: Dimension; words: Words }) {
  const { told, dimension, words } = props;
  if (!told) return <td>–</td>;
  const { by, real } = told;
  const [was = 0, is = 0] = told.means;
  const change = signed(by.value, dimension, words);
  return (
    <td>
      {real ? <b>{change}</b> : change}{" "}
      <small>
        {words.bare(dimension, was)} → {words.bare(dimension, is)}
      </small>
    </td>
  );
}
