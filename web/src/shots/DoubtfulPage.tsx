// Readings that wait for the coach: worked through one by one.

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useEffect, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { answered, api, type Schemas } from "../app/api";
import { keys } from "../app/keys";
import { useWords, type Words } from "../app/vocabulary";
import { atTheMat } from "../mat/acts";
import { OutboxNotice } from "../mat/OutboxNotice";
import { onSent } from "../mat/outbox";
import { day } from "../ui/day";
import { Loading, Nothing, Trouble } from "../ui/Notice";
import { Reported } from "../ui/Reported";
import { said } from "../ui/Said";
import { SchoolHead } from "../ui/SchoolHead";
import css from "./DoubtfulPage.module.css";

export function DoubtfulPage() {
  const words = useWords();
  const queries = useQueryClient();
  const [asked] = useSearchParams();
  const player = asked.get("player");
  const found = useQuery({
    queryKey: keys.doubtfulOf(player),
    queryFn: () =>
      answered(api.GET("/api/v1/doubtful", { params: { query: player ? { player } : {} } })),
  });
  useEffect(() => onSent(() => void queries.invalidateQueries({ queryKey: keys.doubtful })));
  if (found.isError && !found.data) return <Trouble error={found.error} retry={found.refetch} />;
  if (!found.data || !words) return <Loading />;
  const { sessions, looked_through, more, player_name } = found.data;
  const of = player_name ? ` of ${player_name}` : "";
  const waiting = sessions.reduce((sum, session) => sum + session.shots.length, 0);
  const title =
    waiting === 0
      ? `Nothing doubtful${of} waits`
      : more
        ? `${waiting} doubtful readings${of} wait, and more`
        : `${waiting} doubtful ${waiting === 1 ? `reading${of} waits` : `readings${of} wait`}`;
  return (
    <div className="page">
      <SchoolHead />
      <OutboxNotice />
      <div className="page-head">
        <div>
          <h1>{title}</h1>
          <p className="quiet">
            {waiting > 0 && "Until you decide, they stay out of the figures. "}
            {through(looked_through)}
            {more && " Earlier ones follow once these are decided."}
            {player_name && (
              <>
                {" "}
                <Link to="/school/doubtful">Those of all players</Link>
              </>
            )}
          </p>
        </div>
      </div>
      {waiting === 0 && (
        <Nothing title={looked_through === 0 ? "Nothing to decide yet" : "All decided"}>
          <p>Doubtful readings of new sessions appear here by themselves.</p>
        </Nothing>
      )}
      {sessions.map((session) => (
        <section
          key={session.session}
          aria-label={`${session.player_name}, ${day(session.started_at, session.zone)}`}
        >
          <h2>
            <Link to={`/sessions/${session.session}/read`}>
              {session.player_name}, {day(session.started_at, session.zone)}
            </Link>
          </h2>
          <ul className="rows">
            {session.shots.map((shot) => (
              <DoubtfulRow key={shot.shot} session={session.session} shot={shot} words={words} />
            ))}
          </ul>
        </section>
      ))}
    </div>
  );
}

interface RowProps {
  session: string;
  shot: Schemas["DoubtfulShot"];
  words: Words;
}

function DoubtfulRow({ session, shot, words }: RowProps) {
  const mat = atTheMat(session);
  const [decided, setDecided] = useState(false);
  const decide = (act: Parameters<typeof mat.mark>[1], what: string) => {
    mat.mark({ id: shot.shot, number: shot.number }, act, what);
    setDecided(true);
  };
  return (
    <li className={css.doubtfulRow} data-decided={decided || undefined}>
      <div>
        <span className="row-name">Shot {shot.number}</span>
        <small className="quiet">
          {shot.devices.join(" and ") || "by hand"} · {words.club(shot.club).toLowerCase()}
        </small>
      </div>
      <div>
        {shot.doubts.map((doubt) => (
          <p key={doubt.quantity} className={`doubt ${css.doubt}`}>
            {said(doubt.reason, words)}
          </p>
        ))}
        <p className="quiet source-values">
          {words.vocabulary.quantities.map(({ key, label }) => {
            const value = shot.reading[key];
            return value ? (
              <span key={key}>
                {label.toLowerCase()} <Reported quantity={key} value={value} words={words} unit />
              </span>
            ) : null;
          })}
        </p>
      </div>
      <div className="device-acts">
        <Button disabled={decided} onClick={() => decide({ kind: "keep" }, "kept")}>
          Keep
        </Button>
        <Button
          disabled={decided}
          onClick={() =>
            decide({ kind: "set_aside", reason: "device", note: "" }, "set aside as misread")
          }
        >
          Set aside
        </Button>
      </div>
    </li>
  );
}

/** How far the list looked back, in words. */
function through(sessions: number): string {
  if (sessions === 0) return "There is no session yet.";
  if (sessions === 1) return "The latest session was looked through.";
  return `The latest ${sessions} sessions were looked through.`;
}
