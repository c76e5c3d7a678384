// The head of a session's sheet: who, what for, where, and the stations to move between.

import { Button } from "antd";
import { Link, NavLink } from "react-router";
import { useTemperature } from "../app/temperature";
import type { Words } from "../app/vocabulary";
import { OutboxNotice } from "../mat/OutboxNotice";
import { day } from "../ui/day";
import { said } from "../ui/Said";
import { CorrectSession } from "./CorrectSession";
import { type SessionView, useProgress } from "./queries";
import css from "./SessionHead.module.css";
import { NoteRead, SessionNote } from "./SessionNote";

const STATIONS = [
  ["prepare", "Prepare"],
  ["warm-up", "Warm up"],
  ["hit", "Hit"],
  ["read", "Read"],
  ["decide", "Decide"],
  ["page", "Page"],
] as const;

interface Props {
  session: SessionView;
  words: Words;
  live: "live" | "away";
}

export function SessionHead({ session, words, live }: Props) {
  const progress = useProgress(session.id);
  // Swings without a ball leave nothing to hold against each other.
  const stations = STATIONS.filter(
    ([path]) => path !== "decide" || session.purpose_key !== "training",
  );
  const temperature = useTemperature(words.units);
  const { altitude_m, temperature_c, wind } = session.conditions;
  const weather = [
    words.show("height", altitude_m),
    temperature.show(temperature_c),
    wind && `wind ${words.show("speed", wind.speed_mps)}`,
  ].filter(Boolean);
  return (
    <>
      <div className="session-head">
        <div>
          <h1>
            <Link to={`/players/${session.player}`}>{session.player_name}</Link>
          </h1>
          <p className="quiet">
            {session.purpose} ·{" "}
            {(session.bag_club ? said(session.bag_club, words) : session.club).toLowerCase()} ·{" "}
            {day(session.started_at, session.zone)}, {session.place.toLowerCase()} ·{" "}
            {weather.join(", ")} · <CorrectSession session={session} words={words} /> ·{" "}
            <SessionNote session={session} />
          </p>
          <NoteRead session={session} />
        </div>
        <nav className={`stations ${css.stations}`} aria-label="Stations">
          {stations.map(([path, label]) => {
            // A protocol's session is run on a screen of its own.
            const run = path === "hit" && session.purpose_key === "training";
            return (
              <NavLink key={path} to={`/sessions/${session.id}/${run ? "run" : path}`}>
                <i aria-hidden="true" />
                {run ? "Run" : label}
              </NavLink>
            );
          })}
        </nav>
        <div className={css.sessionActs}>
          {session.in_progress && (
            <span className="now" role="status">
              <i aria-hidden="true" />{" "}
              {live === "live" ? "in progress" : "server away, trying again"}
            </span>
          )}
          <Button
            loading={progress.isPending}
            onClick={() => progress.mutate(!session.in_progress)}
          >
            {session.in_progress ? "End session" : "Resume"}
          </Button>
        </div>
      </div>
      <OutboxNotice />
    </>
  );
}

/** What holds the full-effort blocks, where it cannot be overlooked. */
export function HoldNotice({ session }: { session: SessionView }) {
  const { held } = session.progress;
  if (!held) return null;
  return (
    <p className={css.hold} role="status">
      <b>Full-effort blocks are held:</b> {held}. Gentle work only, or stop.{" "}
      <Link to={`/sessions/${session.id}/warm-up`}>Lift the hold with a reason</Link>
    </p>
  );
}
