import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { answered, api, type Schemas } from "../../app/api";
import { useSchool } from "../../app/asked";
import { keys } from "../../app/keys";
import { LOCALE } from "../../app/local";
import { day } from "../../ui/day";
import { Loading, Nothing, Trouble } from "../../ui/Notice";
import { useSettled } from "../../ui/settled";
import { OfferMadeUp } from "../MadeUp";
import { AddPlayer } from "./AddPlayer";
import css from "./PlayersPage.module.css";

type Order = Schemas["RosterOrder"];
type Player = Schemas["RosterPlayer"];

const ORDERS: { value: Order; label: string }[] = [
  { value: "name", label: "by name" },
  { value: "last", label: "who was here last" },
];
/** How many are shown at first, and how many more at a time. */
const STEP = 25;
/** So few are seen at a glance, and need not be looked for. */
const AT_A_GLANCE = 8;
/** The longest list that is told. */
const MOST = 500;

/** Those players that are looked for; the list before stays until another is there. */
function useRoster(wanted: { words: string; order: Order; away: boolean; most: number }) {
  return useQuery({
    queryKey: [...keys.players, "roster", wanted],
    queryFn: () => answered(api.GET("/api/v1/roster", { params: { query: wanted } })),
    placeholderData: keepPreviousData,
  });
}

export function PlayersPage() {
  // In the address, so that it is found and opened from anywhere.
  const [params, setParams] = useSearchParams();
  const setAdding = (on: boolean) => setParams(on ? { add: "1" } : {}, { replace: true });
  const [away, setAway] = useState(false);
  const [words, setWords] = useState("");
  const [order, setOrder] = useState<Order>("name");
  const [most, setMost] = useState(STEP);
  const school = useSchool();
  const found = useRoster({ words: useSettled(words, 150), order, away, most });
  if (found.isError) return <Trouble error={found.error} retry={found.refetch} />;
  if (!found.data) return <Loading />;
  const roster = found.data;
  const any = roster.all + roster.away > 0;
  const hitting = new Map(school.data?.in_progress.map((s) => [s.player, s.session]));
  const add = (
    <Button type="primary" onClick={() => setAdding(true)}>
      Add a player
    </Button>
  );
  return (
    <div className="page">
      <div className="page-head">
        <h1>Players</h1>
        {any && add}
      </div>
      {!any && (
        <Nothing title="No players yet">
          <p>Add the first one, then begin a session.</p>
          {add}
          <OfferMadeUp />
        </Nothing>
      )}
      {roster.all + roster.away > AT_A_GLANCE && (
        <search className={css.looking}>
          <Input
            aria-label="Look for a player"
            placeholder="Name, or what they come for"
            value={words}
            maxLength={200}
            allowClear
            onChange={(e) => {
              setWords(e.target.value);
              setMost(STEP);
            }}
          />
          <Select<Order>
            aria-label="Order of the players"
            value={order}
            onChange={setOrder}
            options={ORDERS}
            popupMatchSelectWidth={false}
          />
        </search>
      )}
      {any && (
        <ul className="rows">
          {roster.players.map((p) => (
            <PlayerRow key={p.id} player={p} hitting={hitting.has(p.id)} />
          ))}
        </ul>
      )}
      {any && roster.found === 0 && words.trim() !== "" && (
        <p role="status" className={css.nobody}>
          Nobody is called or comes for “{words.trim()}”. The beginning of a name is enough.
        </p>
      )}
      {roster.found > roster.players.length && (
        <p className={css.more}>
          {roster.players.length} of {roster.found}.{" "}
          {most < MOST ? (
            <button type="button" className="text-act" onClick={() => setMost(most + STEP)}>
              {Math.min(STEP, roster.found - roster.players.length)} more
            </button>
          ) : (
            "Look for the others by name."
          )}
        </p>
      )}
      {roster.away > 0 && (
        <button type="button" className="text-act" onClick={() => setAway(!away)}>
          {away ? "Without those put away" : `Also those put away: ${roster.away}`}
        </button>
      )}
      <AddPlayer open={params.has("add")} close={() => setAdding(false)} />
    </div>
  );
}

function PlayerRow({ player, hitting }: { player: Player; hitting: boolean }) {
  const { shots, sessions } = player;
  return (
    <li>
      <Link to={`/players/${player.id}`} className="row-link">
        <span className="row-name">{player.name}</span>
        <span className="row-aim">{player.archived_at ? "put away" : player.aim}</span>
        <span className="row-count">
          <b>{shots.toLocaleString(LOCALE)}</b> {shots === 1 ? "shot" : "shots"}
          <small>
            {sessions} {sessions === 1 ? "session" : "sessions"}
          </small>
        </span>
        <span className="row-last">
          {hitting ? (
            <b className="now">
              <i aria-hidden="true" /> in progress
            </b>
          ) : (
            player.last_session && day(player.last_session, player.last_zone ?? "UTC")
          )}
        </span>
      </Link>
    </li>
  );
}
