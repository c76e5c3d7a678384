// The Read station: what the session's shots say. Top-down as the eye goes: the
// strip, the sentence, the picture, the figures, each shot.

import { Select } from "antd";
import { lazy, Suspense, useEffect, useMemo, useRef, useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import type { Quantity } from "../../app/api";
import { useSchool } from "../../app/asked";
import { useWords, type Words } from "../../app/vocabulary";
import { type Act, atTheMat } from "../../mat/acts";
import { clock, day } from "../../ui/day";
import { Loading, Trouble } from "../../ui/Notice";
import { StrikeCosts } from "../../ui/StrikeCosts";
import { useSettled } from "../../ui/settled";
import { type Strokes, strokes } from "../../ui/strip";
import { TallyStrip } from "../../ui/TallyStrip";
import { STANDINGS } from "../../ui/words";
import { useLive } from "../queries";
import { SessionHead } from "../SessionHead";
import sessionCss from "../session.module.css";
import { Figures } from "./Figures";
import { LaunchSpinMap } from "./LaunchSpinMap";
import { MakeBenchmark } from "./MakeBenchmark";
import { Blocks, Opening } from "./Opening";
import { type SessionRead, useOpening, useRead } from "./queries";
import css from "./ReadPage.module.css";
import { SetAside } from "./SetAside";
import { ShotSheet } from "./ShotSheet";
import { ShotTable } from "./ShotTable";
import { UnclaimedBars } from "./UnclaimedBars";

const CarryChart = lazy(() => import("./CarryChart"));

/** Shots beyond which a session is long to draw, and how long a choice must rest then. */
const LONG = 80;
const SETTLES_MS = 250;

export function ReadPage() {
  const { session = "" } = useParams();
  const [params, setParams] = useSearchParams();
  const rulesAt = params.get("rules") ?? undefined;
  const words = useWords();
  const read = useRead(session, params.get("club") ?? undefined, rulesAt);
  if (read.isError && !read.data) return <Trouble error={read.error} retry={read.refetch} />;
  if (!read.data || !words) return <Loading />;
  const ask = (part: Record<string, string>) =>
    setParams({ ...Object.fromEntries(params), ...part }, { replace: true });
  return <Read key={session} read={read.data} words={words} rulesAt={rulesAt} ask={ask} />;
}

interface ReadProps {
  read: SessionRead;
  words: Words;
  /** The moment whose house rules are used; today's when absent. */
  rulesAt: string | undefined;
  ask: (part: Record<string, string>) => void;
}

function Read({ read, words, rulesAt, ask }: ReadProps) {
  const { session, shots, report } = read;
  const [height, setHeight] = useState<Quantity>("club_speed");
  const [selected, setSelected] = useState<number>();
  const [opened, setOpened] = useState<number>();
  // Held with the shot that it was asked for: others may come meanwhile.
  const [askingFor, setAskingFor] = useState<{ id: string; number: number }>();
  const mat = atTheMat(session.id);
  const live = useLive(session.id, !session.in_progress);
  const school = useSchool();
  const opening = useOpening(session.id, read.club).data;
  const blocks = opening?.blocks ?? [];
  const swungOnly = shots.length === 0 && (opening?.swings.length ?? 0) > 0;
  const change = useChange(read, words);
  // In a long session charts and table follow once the arrow keys rest.
  const settled = useSettled(selected, shots.length > LONG ? SETTLES_MS : 0);

  const mark = (index: number, act: Act, what: string) => {
    const shot = shots[index];
    if (shot) mat.mark(shot, act, what);
  };
  const decide = (index: number, kind: "keep" | "withdraw") =>
    mark(index, { kind }, kind === "keep" ? "kept" : "taken back");
  const onKey = (key: string): boolean => {
    const shot = selected === undefined ? undefined : shots[selected];
    if (selected === undefined || !shot) return false;
    const pressed = key.toLowerCase();
    if (pressed === "x") setAskingFor(shot);
    else if (pressed === "k") decide(selected, "keep");
    else if (pressed === "u") decide(selected, "withdraw");
    else if (/^[1-9]$/.test(key))
      mark(selected, { kind: "strike", cell: Number(key) }, `struck ${key}`);
    else return false;
    return true;
  };

  const strip = useMemo(() => readStrip(read, height, words), [read, height, words]);
  const heights = report.summaries.map((s) => s.quantity);
  const { kept, set_aside, doubtful } = report.counts;
  return (
    <div className="session">
      <SessionHead session={session} words={words} live={live} />
      {(read.clubs.length > 1 || rulesAt) && (
        <p className={css.readingOf}>
          {read.clubs.length > 1 && (
            <>
              <Select
                aria-label="Club that is read"
                variant="borderless"
                popupMatchSelectWidth={false}
                value={read.club}
                onChange={(club) => ask({ club })}
                options={read.clubs.map(({ club, shots: hit }) => ({
                  value: club,
                  label: `${words.club(club)}, ${hit} ${hit === 1 ? "shot" : "shots"}`,
                }))}
              />{" "}
            </>
          )}
          {rulesAt && (
            <>
              Read by the house rules of {day(rulesAt, session.zone)},{" "}
              {clock(rulesAt, session.zone)}.{" "}
              <Link to={`/sessions/${session.id}/read`}>Use today’s</Link>
            </>
          )}
        </p>
      )}

      {!swungOnly && (
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
            <p className={sessionCss.keys}>
              {selected === undefined ? (
                <>Choose a stroke by mouse or arrow keys.</>
              ) : (
                <>
                  <b>Shot {shots[selected]?.number}</b>{" "}
                  {STANDINGS[report.shots[selected]?.standing ?? "kept"]}
                  <KeyAct
                    k="X"
                    label="set aside"
                    act={() => selected !== undefined && setAskingFor(shots[selected])}
                  />
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
      )}

      <p className={css.change} role="status">
        {change}
      </p>

      <div className="read-columns">
        <section aria-label="Verdict">
          <Opening read={read} words={words} rulesAt={rulesAt} />
          {report.carry.actual && (
            <Suspense fallback={<div className="chart-space" />}>
              <CarryChart
                read={read}
                words={words}
                alike={blocks.length === 0}
                selected={settled}
                onSelect={setSelected}
              />
            </Suspense>
          )}
        </section>
        {shots.length > 0 && (
          <div>
            {blocks.length > 0 ? (
              <Blocks rows={blocks} words={words} />
            ) : (
              <Figures read={read} words={words} />
            )}
            <MakeBenchmark key={read.club} session={session} club={read.club} />
          </div>
        )}
      </div>

      {shots.length > 0 && (
        <div className="read-columns">
          <LaunchSpinMap read={read} words={words} selected={settled} onSelect={setSelected} />
          <div>
            <UnclaimedBars
              unclaimed={report.unclaimed}
              sentence={report.unclaimed_said}
              working={report.unclaimed_working}
              words={words}
            />
            {opening && <StrikeCosts face={opening.face} words={words} />}
          </div>
        </div>
      )}

      {shots.length > 0 && (
        <ShotTable
          read={read}
          words={words}
          selected={settled}
          onSelect={setSelected}
          onOpen={setOpened}
        />
      )}

      <ShotSheet
        read={read}
        words={words}
        index={opened}
        close={() => setOpened(undefined)}
        setAside={(index) => setAskingFor(shots[index])}
        mark={mark}
      />
      <SetAside
        shot={askingFor}
        cancel={() => setAskingFor(undefined)}
        choose={(of, id, reason, note) => {
          mat.mark(of, { kind: "set_aside", reason, note }, "set aside", id);
          setAskingFor(undefined);
        }}
      />
    </div>
  );
}

function KeyAct({ k, label, act }: { k: string; label: string; act: () => void }) {
  return (
    <button type="button" className={sessionCss.keyAct} onClick={act}>
      <kbd>{k}</kbd> {label}
    </button>
  );
}

function readStrip(read: SessionRead, height: Quantity, words: Words): Strokes {
  const shots = read.shots.map((shot, i) => ({
    ...shot,
    standing: read.report.shots[i]?.standing ?? "kept",
    value: shot.reading[height]?.si,
  }));
  return strokes(shots, height, words);
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
