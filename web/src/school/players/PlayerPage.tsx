import { useQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { answered, api, type Schemas } from "../../app/api";
import { keys } from "../../app/keys";
import { RecordTab } from "../../record/RecordTab";
import { DecisionRow } from "../../trials/DecisionRow";
import { useDecisions } from "../../trials/queries";
import { day } from "../../ui/day";
import { Loading, Nothing, Trouble } from "../../ui/Notice";
import { Consent } from "./Consent";
import { CorrectPlayer } from "./CorrectPlayer";
import { Links } from "./Links";
import css from "./PlayerPage.module.css";
import { Sharing } from "./Sharing";
import { TakeOut } from "./TakeOut";

const TABS = [
  ["record", "Record"],
  ["sessions", "Sessions"],
  ["about", "About"],
] as const;

type Tab = (typeof TABS)[number][0];

export function PlayerPage({ tab = "record" }: { tab?: Tab }) {
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
      <div className={`page-head ${css.head}`}>
        <div>
          <h1>{name}</h1>
          {aim && <p className={css.aim}>{aim}</p>}
          <p className="quiet">
            {about.map((fact) => `${fact} · `)}
            <CorrectPlayer player={player} facts={{ name, aim, born: born ?? null, left_handed }} />
          </p>
        </div>
        {sessions.length > 0 && (
          <div className={css.pageActs}>
            <Link to={`/players/${player}/compare`}>Compare any balls</Link>
            {begin}
          </div>
        )}
      </div>
      <Consent player={player} consent={consent} />
      <nav className={css.tabs} aria-label="Player">
        {TABS.map(([key, label]) => (
          <Link
            key={key}
            to={key === "record" ? `/players/${player}` : `/players/${player}/${key}`}
            aria-current={tab === key ? "page" : undefined}
          >
            {label}
            {key === "sessions" && sessions.length > 0 && <small> {sessions.length}</small>}
          </Link>
        ))}
      </nav>
      {tab === "record" && sessions.length > 0 && <RecordTab player={player} begin={begin} />}
      {tab === "record" && <Decisions player={player} />}
      {((tab === "record" && sessions.length === 0) || tab === "sessions") &&
        (sessions.length === 0 ? (
          <Nothing title="No sessions yet">
            <p>
              Prepare one: shots that a device sends while it is in progress are kept in it. Without
              a device, a practice device plays, or numbers are typed.
            </p>
            {begin}
          </Nothing>
        ) : (
          <SessionRows player={player} sessions={sessions} />
        ))}
      {tab === "about" && (
        <>
          <Sharing player={player} />
          <Links player={player} name={name} />
          <TakeOut player={player} name={name} />
        </>
      )}
    </div>
  );
}

type Listed = Schemas["ListedSession"];

/** The sessions, latest first; two of one purpose and club compare in two taps. */
function SessionRows({ player, sessions }: { player: string; sessions: Listed[] }) {
  const [first, setFirst] = useState<Listed>();
  const navigate = useNavigate();
  const kind = (s: Listed) => `${s.purpose_key} ${s.club_key}`;
  const others = (s: Listed) =>
    s.shots > 0 && sessions.some((o) => o.id !== s.id && o.shots > 0 && kind(o) === kind(s));
  const pick = (s: Listed) => {
    if (!first || first.id === s.id) {
      setFirst(first ? undefined : s);
      return;
    }
    const address = new URLSearchParams({ by: s.compared_by });
    for (const set of [first, s].sort((a, b) => a.started_at.localeCompare(b.started_at)))
      address.append(
        "set",
        JSON.stringify({
          label: day(set.started_at, set.zone),
          session: set.id,
          club: set.club_key,
        }),
      );
    navigate(`/players/${player}/compare?${address}`);
  };
  return (
    <ul className="rows">
      {sessions.map((s) => (
        <li key={s.id} className={css.sessionRow}>
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
          {others(s) && (!first || kind(first) === kind(s)) && (
            <button
              type="button"
              className="text-act"
              aria-pressed={first?.id === s.id}
              onClick={() => pick(s)}
            >
              {!first ? "Compare" : first.id === s.id ? "Not this one" : "Against this one"}
            </button>
          )}
        </li>
      ))}
    </ul>
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
