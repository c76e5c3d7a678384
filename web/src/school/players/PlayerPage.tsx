import { useQuery } from "@tanstack/react-query";
import { Button } from "antd";
import { lazy, Suspense } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { answered, api } from "../../app/api";
import { keys } from "../../app/keys";
import { useWords } from "../../app/vocabulary";
import { RecordTab } from "../../record/RecordTab";
import { Pages } from "../../report/Pages";
import { DecisionRow } from "../../trials/DecisionRow";
import { useDecisions } from "../../trials/queries";
import { tall } from "../../ui/height";
import { typed } from "../../ui/Measured";
import { Loading, Nothing, Trouble } from "../../ui/Notice";
import { Archive, Past } from "./Archive";
import { Consent } from "./Consent";
import { CorrectPlayer } from "./CorrectPlayer";
import { Links } from "./Links";
import { LEVELS } from "./PlayerForm";
import css from "./PlayerPage.module.css";
import { SessionRows } from "./SessionRows";
import { Sharing } from "./Sharing";
import { TakeOut } from "./TakeOut";

const Bag = lazy(async () => ({ default: (await import("./Bag")).Bag }));

const ProgrammeTab = lazy(async () => ({
  default: (await import("../../training/ProgrammeTab")).ProgrammeTab,
}));

const TABS = [
  ["record", "Record"],
  ["sessions", "Sessions"],
  ["programme", "Programme"],
  ["bag", "Bag"],
  ["about", "About"],
] as const;

type Tab = (typeof TABS)[number][0];

export function PlayerPage({ tab = "record" }: { tab?: Tab }) {
  const { player = "" } = useParams();
  const navigate = useNavigate();
  const words = useWords();
  const found = useQuery({
    queryKey: keys.player.all(player),
    queryFn: () => answered(api.GET("/api/v1/players/{player}", { params: { path: { player } } })),
  });
  if (found.isError) return <Trouble error={found.error} retry={found.refetch} />;
  if (!found.data) return <Loading />;
  const { name, aim, born, left_handed, sessions, consent, height_m, mass_kg, level } = found.data;
  const archived = found.data.archived_at;
  const about = [
    born && `born ${born}`,
    level && LEVELS[level].toLowerCase(),
    left_handed && "plays left-handed",
    height_m && words && tall(height_m, words.units),
    mass_kg && `${Math.round(mass_kg)} kg`,
  ].filter(Boolean);
  const begin = archived ? null : (
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
            <CorrectPlayer
              player={player}
              facts={{
                name,
                aim,
                born: born ?? null,
                left_handed,
                level: level ?? null,
                height:
                  height_m && words
                    ? {
                        value: typed(words.field("club_length", height_m)),
                        unit: words.suffix("club_length"),
                      }
                    : null,
                mass: mass_kg ? { value: Math.round(mass_kg * 10) / 10, unit: "kg" } : null,
              }}
            />
          </p>
        </div>
        {sessions.length > 0 && (
          <div className={css.pageActs}>
            <Link to={`/players/${player}/compare`}>Compare any balls</Link>
            {begin}
          </div>
        )}
      </div>
      {archived && <Past player={player} since={archived} />}
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
      {tab === "programme" && words && (
        <Suspense fallback={<Loading />}>
          <ProgrammeTab player={player} words={words} />
        </Suspense>
      )}
      {tab === "bag" && (
        <Suspense fallback={<Loading />}>
          <Bag player={player} />
        </Suspense>
      )}
      {tab === "about" && (
        <>
          <Sharing player={player} />
          <Pages player={player} name={name} />
          <Links player={player} name={name} />
          {!archived && <Archive player={player} />}
          <TakeOut player={player} name={name} />
        </>
      )}
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
