// Where a player stands among those of their age and level.

import { useQuery } from "@tanstack/react-query";
import { answered, api, type Quantity, type Schemas } from "../app/api";
import { keys } from "../app/keys";
import type { Words } from "../app/vocabulary";
import { said } from "../ui/Said";
import css from "./Among.module.css";

/** Values of which more is better for everybody. */
const COMPARED: Quantity[] = ["club_speed", "ball_speed", "carry", "smash_factor"];

export function Among(props: { player: string; club: string; quantity: Quantity; words: Words }) {
  const { player, club, quantity, words } = props;
  const compared = COMPARED.includes(quantity);
  const found = useQuery({
    queryKey: keys.player.peers(player, club, quantity),
    queryFn: () =>
      answered(
        api.GET("/api/v1/players/{player}/peers", {
          params: { path: { player }, query: { club, quantity } },
        }),
      ),
    enabled: compared,
  });
  if (!compared || !found.data) return null;
  const told = found.data;
  return (
    <section aria-label="Among players of the age">
      <h2 className="minor">Among the school’s players</h2>
      {told.rank && told.own != null && (
        <Rule rank={told.rank} own={told.own} quantity={quantity} words={words} />
      )}
      <p className={told.rank ? css.said : "quiet"}>{said(told.sentence, words)}</p>
      {told.reference && <p className={css.source}>Reference: {told.reference.source}</p>}
    </section>
  );
}

const WIDTH = 480;
const PAD = 34;
/** What a figure needs beside the middle one. */
const ROOM = 54;

/** Half of the group lies within the bar; the wedge is the player. */
function Rule(props: { rank: Schemas["Rank"]; own: number; quantity: Quantity; words: Words }) {
  const { rank, own, quantity, words } = props;
  const { dimension } = words.quantity(quantity);
  const half = Math.max(rank.three_quarters - rank.quarter, 1e-6);
  const low = Math.min(rank.quarter - half, own);
  const high = Math.max(rank.three_quarters + half, own);
  const x = (value: number) => PAD + ((value - low) / (high - low)) * (WIDTH - 2 * PAD);
  const marks = [rank.quarter, rank.middle, rank.three_quarters];
  return (
    <svg
      className={css.rule}
      viewBox={`0 0 ${WIDTH} 66`}
      role="img"
      aria-label={`Percentile ${Math.round(rank.percentile)} of ${rank.n}`}
    >
      <path className={css.line} d={`M${PAD} 30H${WIDTH - PAD}`} />
      <path className={css.half} d={`M${x(rank.quarter)} 30H${x(rank.three_quarters)}`} />
      {marks.map((value, i) => (
        <g key={["quarter", "middle", "three quarters"][i]}>
          <path className={css.tick} d={`M${x(value)} ${i === 1 ? 18 : 23}V${i === 1 ? 42 : 37}`} />
          {(i === 1 || Math.abs(x(value) - x(rank.middle)) > ROOM) && (
            <text className={css.figure} x={x(value)} y={60} textAnchor="middle">
              {words.bare(dimension, value)}
            </text>
          )}
        </g>
      ))}
      <path className={css.wedge} d={`M${x(own)} 26l-8 -14h16z`} />
    </svg>
  );
}
