import { Button } from "antd";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { usePlayers, useSchool } from "../../app/asked";
import { day } from "../../ui/day";
import { Loading, Nothing, Trouble } from "../../ui/Notice";
import { OfferMadeUp } from "../MadeUp";
import { AddPlayer } from "./AddPlayer";

export function PlayersPage() {
  // In the address, so that it is found and opened from anywhere.
  const [params, setParams] = useSearchParams();
  const setAdding = (on: boolean) => setParams(on ? { add: "1" } : {}, { replace: true });
  const [past, setPast] = useState(false);
  const school = useSchool();
  const players = usePlayers();
  if (players.isError) return <Trouble error={players.error} retry={players.refetch} />;
  if (!players.data) return <Loading />;
  const hitting = new Map(school.data?.in_progress.map((s) => [s.player, s.session]));
  const away = players.data.filter((p) => p.archived_at != null).length;
  const shown = players.data.filter((p) => past || p.archived_at == null);
  const add = (
    <Button type="primary" onClick={() => setAdding(true)}>
      Add a player
    </Button>
  );
  return (
    <div className="page">
      <div className="page-head">
        <h1>Players</h1>
        {players.data.length > 0 && add}
      </div>
      {players.data.length === 0 ? (
        <Nothing title="No players yet">
          <p>Add the first one, then begin a session.</p>
          {add}
          <OfferMadeUp />
        </Nothing>
      ) : (
        <ul className="rows">
          {shown.map((p) => (
            <li key={p.id}>
              <Link to={`/players/${p.id}`} className="row-link">
                <span className="row-name">{p.name}</span>
                <span className="row-aim">{p.archived_at ? "put away" : p.aim}</span>
                <span className="row-count">
                  <b>{p.shots}</b> {p.shots === 1 ? "shot" : "shots"}
                  <small>
                    {p.sessions} {p.sessions === 1 ? "session" : "sessions"}
                  </small>
                </span>
                <span className="row-last">
                  {hitting.has(p.id) ? (
                    <b className="now">
                      <i aria-hidden="true" /> in progress
                    </b>
                  ) : (
                    p.last_session && day(p.last_session, p.last_zone ?? "UTC")
                  )}
                </span>
              </Link>
            </li>
          ))}
        </ul>
      )}
      {away > 0 && (
        <button type="button" className="text-act" onClick={() => setPast(!past)}>
          {past ? "Without those put away" : `Also those put away: ${away}`}
        </button>
      )}
      <AddPlayer open={params.has("add")} close={() => setAdding(false)} />
    </div>
  );
}
