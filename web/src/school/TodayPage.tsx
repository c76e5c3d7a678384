// What the day holds: sessions in progress, and decisions to look at again.

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { answered, api } from "../app/api";
import { keys } from "../app/keys";
import { LOCALE } from "../app/local";
import { useWords } from "../app/vocabulary";
import { TrainingToday } from "../training/TrainingToday";
import { DecisionRow } from "../trials/DecisionRow";
import { day } from "../ui/day";
import { Loading, Nothing, Trouble } from "../ui/Notice";
import { FEW, type FlagOrder, Flags } from "./Flags";
import { MadeUpAreHere, OfferMadeUp } from "./MadeUp";

export function TodayPage() {
  const [order, setOrder] = useState<FlagOrder>("urgency");
  const [flags, setMost] = useState(FEW);
  const asked = { flags, order };
  const found = useQuery({
    queryKey: [...keys.today, asked],
    queryFn: () => answered(api.GET("/api/v1/today", { params: { query: asked } })),
    placeholderData: keepPreviousData,
    // What is still being read comes a little later.
    refetchInterval: ({ state }) => ((state.data?.still_reading ?? 0) > 0 ? 1500 : false),
  });
  const words = useWords();
  if (found.isError) return <Trouble error={found.error} retry={found.refetch} />;
  if (!found.data || !words) return <Loading />;
  const { in_progress, rechecks, due, still_reading, any_players, made_up } = found.data;
  return (
    <div className="page">
      <div className="page-head">
        <div>
          <h1>Today</h1>
          <p className="quiet">
            {new Date().toLocaleDateString(LOCALE, {
              weekday: "long",
              day: "numeric",
              month: "long",
            })}
          </p>
        </div>
      </div>
      {!any_players && (
        <Nothing title="No players yet">
          <p>
            <Link to="/players?add=1">Add one</Link>, prepare a session, and hit.
          </p>
          <OfferMadeUp />
        </Nothing>
      )}
      {any_players && (
        <>
          {made_up && <MadeUpAreHere />}
          <TrainingToday />
          <h2>In progress</h2>
          {in_progress.length === 0 ? (
            <p className="quiet">
              No session is under way. <Link to="/players">Choose a player</Link> to begin one.
            </p>
          ) : (
            <ul className="rows">
              {in_progress.map(({ player_name, session }) => (
                <li key={session.id}>
                  <Link
                    to={`/sessions/${session.id}/${session.purpose_key === "training" ? "run" : "hit"}`}
                    className="row-link"
                  >
                    <span className="row-name">{player_name}</span>
                    <span className="row-aim">
                      {session.purpose} · {session.club.toLowerCase()}
                    </span>
                    <span className="row-count">
                      <b>{session.shots}</b> {session.shots === 1 ? "shot" : "shots"}
                      <small>{session.place}</small>
                    </span>
                    <span className="row-last">since {day(session.started_at, session.zone)}</span>
                  </Link>
                </li>
              ))}
            </ul>
          )}
          <h2>To look at</h2>
          <Flags
            flags={found.data.flags}
            inAll={found.data.flags_in_all}
            order={order}
            setOrder={setOrder}
            setMost={setMost}
            words={words}
          />
          {still_reading > 0 && (
            <p className="quiet" role="status">
              The sessions of {still_reading} more {still_reading === 1 ? "player" : "players"} are
              being read.
            </p>
          )}
          {due.length > 0 && (
            <>
              <h2>Due for a check-in</h2>
              <ul className="rows">
                {due.map((d) => (
                  <li key={d.player}>
                    <Link to={`/players/${d.player}`} className="row-link">
                      <span className="row-name">{d.player_name}</span>
                      <span className="row-aim">{d.check_ins} check-ins so far</span>
                      <span className="row-count">
                        <b>{d.weeks}</b> weeks
                        <small>since the last</small>
                      </span>
                      {d.to_beat && (
                        <span className="row-last">
                          to beat{" "}
                          {words.show(
                            words.quantity(d.to_beat.of.quantity).dimension,
                            d.to_beat.best,
                          )}
                        </span>
                      )}
                    </Link>
                  </li>
                ))}
              </ul>
            </>
          )}
          <h2>Decisions to look at again</h2>
          {rechecks.length === 0 ? (
            <p className="quiet">
              Nothing is due. Decisions with a day to look again, made in a session’s Decide
              station, stand here.
            </p>
          ) : (
            <ul className="decisions">
              {rechecks.map(({ player_name, decision }) => (
                <DecisionRow key={decision.id} decision={decision} player={player_name} />
              ))}
            </ul>
          )}
        </>
      )}
    </div>
  );
}
