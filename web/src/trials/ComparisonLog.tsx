// What was compared for the player in these weeks: a new claim stands beside it.

import { useQuery } from "@tanstack/react-query";
import { answered, api } from "../app/api";
import { keys } from "../app/keys";
import { ZONE } from "../app/local";
import type { Words } from "../app/vocabulary";
import { day } from "../ui/day";
import { said } from "../ui/Said";
import css from "./ComparisonLog.module.css";

export function ComparisonLog({ player, words }: { player: string; words: Words }) {
  const { data } = useQuery({
    queryKey: keys.player.comparisons(player),
    queryFn: ({ signal }) =>
      answered(
        api.GET("/api/v1/players/{player}/comparisons", {
          params: { path: { player } },
          signal,
        }),
      ),
  });
  if (!data || data.length < 2) return null;
  const zone = ZONE;
  return (
    <details className={css.log}>
      <summary>{data.length} comparisons in six weeks</summary>
      <ul>
        {data.map((made) => (
          <li key={`${made.made_at} ${made.chance}`}>
            <small>
              {day(made.made_at, zone)} · {made.stands ? "◆ stands among them" : "◇ open"}
            </small>
            <p>{said(made.told, words)}</p>
          </li>
        ))}
      </ul>
    </details>
  );
}
