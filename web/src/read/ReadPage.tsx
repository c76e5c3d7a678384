// The Read station: what the session's shots say. Top-down as the eye goes: the
// strip, the sentence, the picture, the figures, each shot.

import { Button, Select } from "antd";
import { lazy, Suspense, useEffect, useMemo, useRef, useState } from "react";
import { Link, useParams } from "react-router";
import type { Quantity } from "../app/api";
import { useWords, type Words } from "../app/vocabulary";
import { useSchool } from "../sessions/queries";
import { day } from "../ui/day";
import { Loading, Trouble } from "../ui/Notice";
import { said } from "../ui/Said";
import { type StripShot, TallyStrip } from "../ui/TallyStrip";
import { WorkingLink } from "../ui/Working";
import { BlockForm } from "./BlockForm";
import { Figures } from "./Figures";
import { LaunchSpinMap } from "./LaunchSpinMap";
import { type SessionRead, useLive, useMark, useProgress, useRead } from "./queries";
import { SetAside } from "./SetAside";
import { ShotSheet } from "./ShotSheet";
import { ShotTable } from "./ShotTable";
import { UnclaimedBars } from "./UnclaimedBars";
import { STANDINGS } from "./words";

const CarryChart = lazy(() => import("./CarryChart"));

export function ReadPage() {
  const { session = "" } = useParams();
  const words = useWords();
  const read = useRead(session);
  if (read.isError && !read.data) return <Trouble error={read.error} retry={read.refetch} />;
  if (!read.data || !words) return <Loading />;
  return <Read key={session} read={read.data} words={words} />;
}

function Read({ read, words }: { read: SessionRead; words: Words }) {
  const { session, shots, report } = read;
  const [height, setHeight] = useState<Quantity>("club_speed");
  const [selected, setSelected] = useState<number>();
  const [opened, setOpened] = useState<number>();
  const [askingFor, setAskingFor] = useState<number>();
  const [newBlock, setNewBlock] = useState(false);
  const mark = useMark(session.id);
  const progress = useProgress(session.id);
  const live = useLive(session.id);
  const school = useSchool();
  const change = useChange(read, words);

  const decide = (index: number, kind: "keep" | "withdraw") => {
    const shot = shots[index];
    if (shot) mark.mutate({ shot: shot.id, act: { kind } });
  };
  const onKey = (key: string): boolean => {
    const shot = selected === undefined ? undefined : shots[selected];
    if (selected === undefined || !shot) return false;
    const pressed = key.toLowerCase();
    if (pressed === "x") setAskingFor(selected);
    else if (pressed === "k") decide(selected, "keep");
    else if (pressed === "u") decide(selected, "withdraw");
    else if (/^[1-9]$/.test(key))
      mark.mutate({ shot: shot.id, act: { kind: "strike", cell: Number(key) } });
    else return false;
    return true;
  };

  const strip = useMemo(() => stripShots(read, height, words), [read, height, words]);
  const heights = report.summaries.map((s) => s.quantity);
  const { kept, set_aside, doubtful } = report.counts;
  const weather = [
    words.show("height", session.conditions.altitude_m),
    `${Math.round(session.conditions.temperature_c)} °C`,
  ].join(", ");

  return (
    <div className="session">
      <div className="session-head">
        <div>
          <h1>
            <Link to={`/players/${session.player}`}>{session.player_name}</Link>
          </h1>
          <p className="quiet">
            {session.purpose} · {session.club.toLowerCase()} ·{" "}
            {day(session.started_at, session.zone)}, {session.place.toLowerCase()} · {weather}
          </p>
        </div>
        <div className="session-acts">
          {session.in_progress && (
            <>
              <span className="now" role="status">
                <i aria-hidden="true" />{" "}
                {live === "live" ? "in progress" : "server away, trying again"}
              </span>
              <Button onClick={() => setNewBlock(true)}>Next block</Button>
            </>
          )}
          <Button
            loading={progress.isPending}
            onClick={() => progress.mutate(!session.in_progress)}
          >
            {session.in_progress ? "End session" : "Take up again"}
          </Button>
        </div>
      </div>

      <section className="strip-band" aria-label="Tally">
        <div className="strip-main">
          {shots.length > 0 ? (
            <TallyStrip
              shots={strip.shots}
              blocks={session.blocks}
              selected={selected}
              best={strip.best}
              onSelect={setSelected}
              onKey={onKey}
              onOpen={setOpened}
            />
          ) : (
            <p className="strip-empty">
              Strokes appear here as shots come in.
              {school.data && ` Devices send them to ${school.data.intake}.`}
            </p>
          )}
          <p className="keys">
            {selected === undefined ? (
              <>Choose a stroke by mouse or arrow keys.</>
            ) : (
              <>
                <b>Shot {shots[selected]?.number}</b>{" "}
                {STANDINGS[report.shots[selected]?.standing ?? "kept"]}
                <KeyAct k="X" label="set aside" act={() => setAskingFor(selected)} />
                <KeyAct k="K" label="keep" act={() => decide(selected, "keep")} />
                <KeyAct k="U" label="take back" act={() => decide(selected, "withdraw")} />
                <KeyAct k="Enter" label="open" act={() => setOpened(selected)} />
                <span className="key-hint">
                  <kbd>1–9</kbd> strike
                </span>
              </>
            )}
          </p>
        </div>
        <div className="strip-side">
          <label>
            <span>Stroke height</span>
            <Select<Quantity>
              aria-label="Stroke height"
              variant="borderless"
              popupMatchSelectWidth={false}
              value={height}
              onChange={setHeight}
              options={(heights.length ? heights : ["club_speed" as Quantity]).map((q) => ({
                value: q,
                label: words.quantity(q).label.toLowerCase(),
              }))}
            />
          </label>
          <p className="kept">
            <b>{kept}</b> kept
          </p>
          <p className="quiet">
            {set_aside} set aside · {doubtful} doubtful
          </p>
        </div>
      </section>

      <p className="change" role="status">
        {mark.isError ? <span className="bad">{mark.error.message}</span> : change}
      </p>

      <div className="read-columns">
        <section aria-label="Verdict">
          <h2 className={`verdict ${report.verdict.kind}`}>
            {said(report.verdict.sentence, words)}
          </h2>
          <p className="detail">
            {said(report.verdict.detail, words)} ·{" "}
            <WorkingLink
              sentence={report.verdict.sentence}
              working={report.verdict.working}
              words={words}
            />
          </p>
          {shots.length > 0 && (
            <Suspense fallback={<div className="chart-space" />}>
              <CarryChart
                read={read}
                words={words}
                selected={selected}
                onSelect={(i) => setSelected(i)}
              />
            </Suspense>
          )}
        </section>
        {shots.length > 0 && <Figures read={read} words={words} />}
      </div>

      {shots.length > 0 && (
        <div className="read-columns">
          <LaunchSpinMap
            read={read}
            words={words}
            selected={selected}
            onSelect={(i) => setSelected(i)}
          />
          <UnclaimedBars
            unclaimed={report.unclaimed}
            sentence={report.unclaimed_said}
            working={report.unclaimed_working}
            words={words}
          />
        </div>
      )}

      {shots.length > 0 && (
        <ShotTable
          read={read}
          words={words}
          selected={selected}
          onSelect={setSelected}
          onOpen={setOpened}
        />
      )}

      <ShotSheet
        read={read}
        words={words}
        index={opened}
        close={() => setOpened(undefined)}
        setAside={setAskingFor}
        mark={(shot, act) => mark.mutate({ shot, act })}
      />
      <SetAside
        shot={askingFor === undefined ? undefined : shots[askingFor]}
        pending={mark.isPending}
        error={mark.error}
        cancel={() => setAskingFor(undefined)}
        choose={(shot, id, reason, note) =>
          mark.mutate(
            { shot, id, act: { kind: "set_aside", reason, note } },
            { onSuccess: () => setAskingFor(undefined) },
          )
        }
      />
      <BlockForm session={session.id} open={newBlock} close={() => setNewBlock(false)} />
    </div>
  );
}

function KeyAct({ k, label, act }: { k: string; label: string; act: () => void }) {
  return (
    <button type="button" className="key-act" onClick={act}>
      <kbd>{k}</kbd> {label}
    </button>
  );
}

function stripShots(read: SessionRead, height: Quantity, words: Words) {
  const { label, dimension, has_best } = words.quantity(height);
  const values = read.shots.map((shot) => shot.reading[height]?.si);
  const there = values.filter((v) => v !== undefined);
  const least = Math.min(...there);
  const range = Math.max(...there) - least || 1;
  let best: number | undefined;
  const shots = read.shots.map((shot, i): StripShot => {
    const value = values[i];
    const standing = read.report.shots[i]?.standing ?? "kept";
    if (value !== undefined && standing === "kept") {
      if (best === undefined || value > (values[best] ?? Number.NEGATIVE_INFINITY)) best = i;
    }
    const shown = value === undefined ? "none" : words.show(dimension, value);
    return {
      id: shot.id,
      block: shot.block,
      standing,
      height: value === undefined ? undefined : (value - least) / range,
      label: `Shot ${shot.number}, ${STANDINGS[standing]}, ${label.toLowerCase()} ${shown}`,
    };
  });
  return { shots, best: has_best ? best : undefined };
}

/** What the last change of a standing did to the mean carry, in words. */
function useChange(read: SessionRead, words: Words): string {
  const before = useRef(read);
  const [change, setChange] = useState<{ what: string; from?: number; to?: number }>();
  useEffect(() => {
    const was = before.current;
    before.current = read;
    if (was === read || was.shots.length !== read.shots.length) return;
    const changed = read.report.shots.findIndex(
      (shot, i) => shot.standing !== was.report.shots[i]?.standing,
    );
    const shot = read.report.shots[changed];
    if (!shot) return;
    setChange({
      what: `Shot ${read.shots[changed]?.number} is now ${STANDINGS[shot.standing]}`,
      from: was.report.carry.actual?.mean,
      to: read.report.carry.actual?.mean,
    });
  }, [read]);
  if (!change) return "";
  if (change.from === undefined || change.to === undefined) return `${change.what}.`;
  const [from, to] = [words.bare("distance", change.from), words.show("distance", change.to)];
  return `${change.what}: mean carry ${from} → ${to}.`;
}
