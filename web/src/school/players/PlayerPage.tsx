import { useQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { Link, useNavigate, useParams } from "react-router";
import { answered, api } from "../../app/api";
import { keys } from "../../app/keys";
import { DecisionRow } from "../../trials/DecisionRow";
import { useDecisions } from "../../trials/queries";
import { day } from "../../ui/day";
import { Loading, Nothing, Trouble } from "../../ui/Notice";
import { Consent } from "./Consent";
import { Links } from "./Links";
import css from "./PlayerPage.module.css";
import { Sharing } from "./Sharing";
import { TakeOut } from "./TakeOut";

export function PlayerPage() {
  const { player = "" } = useParams();
  const navigate = useNavigate();
  const found = useQuery({
    queryKey: keys.player.all(player),
    queryFn: () => answered(api.GET("/api/v1/players/{player}", { params: { path: { player } } })),
  });
  if (found.isError) return <Trouble error={found.error} retry={found.refetch} />;
  if (!found.data) return <Loading />;
  const { name, aim, born, left_handed, sessions, consent } = found.data;
  const about = [born && `born ${born}`, left_handed && "plays left-handed"].filter(Boolean);
  const begin = (
    <Button type="primary" onClick={() => navigate(`/players/${player}/prepare`)}>
      Begin a session
    </Button>
  );
  return (
    <div className="page">
      <p className="crumb">
        <Link to="/players">Players</Link>
      </p>
      <div className="page-head">
        <div>
          <h1>{name}</h1>
          {aim && <p className={css.aim}>{aim}</p>}
          {about.length > 0 && <p className="quiet">{about.join(" · ")}</p>}
        </div>
        {sessions.length > 0 && (
          <div className={css.pageActs}>
            <Link to={`/players/${player}/compare`}>Compare any balls</Link>
            {begin}
          </div>
        )}
      </div>
      <Consent player={player} consent={consent} />
      <Decisions player={player} />
      <h2>Sessions</h2>
      {sessions.length === 0 ? (
        <Nothing title="No sessions yet">
          <p>
            Prepare one: shots that a device sends while it is in progress are kept in it. Without a
            device, a practice device plays, or numbers are typed.
          </p>
          {begin}
        </Nothing>
      ) : (
        <ul className="rows">
          {sessions.map((s) => (
            <li key={s.id}>
              <Link to={`/sessions/${s.id}/${s.in_progress ? "hit" : "read"}`} className="row-link">
                <span className="row-name">{day(s.started_at, s.zone)}</span>
                <span className="row-aim">
                  {s.purpose} · {s.club.toLowerCase()}
                </span>
                <span className="row-count">
                  <b>{s.shots}</b> {s.shots === 1 ? "shot" : "shots"}
                  <small>{s.place}</small>
                </span>
                <span className="row-last">
                  {s.in_progress && (
                    <b className="now">
                      <i aria-hidden="true" /> in progress
                    </b>
                  )}
                </span>
              </Link>
            </li>
          ))}
        </ul>
      )}
      <Sharing player={player} />
      <Links player={player} name={name} />
      <TakeOut player={player} name={name} />
    </div>
  );
}

/** What was decided, the latest first; what is done with stands behind a fold. */
function Decisions({ player }: { player: string }) {
  const found = useDecisions(player);
  const all = found.data ?? [];
  const open = all.filter((decision) => !decision.done);
  const done = all.filter((decision) => decision.done);
  if (all.length === 0) return null;
  return (
    <>
      <h2>Decisions</h2>
      <ul className="decisions">
        {open.map((decision) => (
          <DecisionRow key={decision.id} decision={decision} />
        ))}
      </ul>
      {done.length > 0 && (
        <details>
          <summary>Done with: {done.length}</summary>
          <ul className="decisions">
            {done.map((decision) => (
              <DecisionRow key={decision.id} decision={decision} />
            ))}
          </ul>
        </details>
      )}
    </>
  );
}
