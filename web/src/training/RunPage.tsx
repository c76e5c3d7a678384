// A training session as a screen of its own: the set that is on, each reading as a stroke of
// the tally, the one to beat, the rest before the next.

import { Button } from "antd";
import { useEffect, useRef, useState } from "react";
import { Link, useParams } from "react-router";
import { v7 as uuid } from "uuid";
import { useChoice } from "../app/choice";
import { asked, keysAreOn } from "../app/shortcuts";
import { useWords, type Words } from "../app/vocabulary";
import { atTheMat } from "../mat/acts";
import type { Waiting } from "../mat/kept";
import { OutboxNotice } from "../mat/OutboxNotice";
import { useOutbox } from "../mat/outbox";
import { BoardButton } from "../session/board/BoardButton";
import { Cautions } from "../session/Cautions";
import { Practice } from "../session/hit/Practice";
import { RestTimer } from "../session/hit/RestTimer";
import { AskWarmUp, StopNotice } from "../session/hit/StopNotice";
import { useLive, useProgress } from "../session/queries";
import { HoldNotice } from "../session/SessionHead";
import { KeyHint } from "../ui/KeyHint";
import { isTyping } from "../ui/keys";
import { Loading, Trouble } from "../ui/Notice";
import { said } from "../ui/Said";
import { useScreenLit } from "../ui/wake";
import { type Stroke, type Tally, tallied, unread } from "./pending";
import { type RunView, useRun } from "./queries";
import { RunEnd } from "./RunEnd";
import { RunKeypad } from "./RunKeypad";
import css from "./RunPage.module.css";
import { RunSets } from "./RunSets";
import { OneKey } from "./RunStops";
import { RunStrip } from "./RunStrip";
import { countDown, speak, voiceChoice } from "./voice";

export function RunPage() {
  const { session = "" } = useParams();
  const words = useWords();
  const run = useRun(session);
  const live = useLive(session, run.data?.session.in_progress === false);
  if (run.isError && !run.data) return <Trouble error={run.error} retry={run.refetch} />;
  if (!run.data || !words) return <Loading />;
  return <Run key={session} view={run.data} words={words} live={live} />;
}

/** Digits that a reading has before the point. */
const MOST_DIGITS = 3;

function Run({ view, words, live }: { view: RunView; words: Words; live: "live" | "away" }) {
  const { session, report } = view;
  const outbox = useOutbox();
  const seen = useRef<Waiting[]>([]);
  seen.current = unread(session.id, report, outbox, seen.current);
  const internal = (value: number) => words.internal("speed", value);
  const tally = tallied(session.id, report, seen.current, internal);
  const [typed, setTyped] = useState("");
  const [trouble, setTrouble] = useState("");
  const [asking, setAsking] = useState<"skip" | "stop">();
  const [done, setDone] = useState<{ what: string; undo?: () => void }>();
  const mat = atTheMat(session.id);
  const progress = useProgress(session.id);
  const { paused } = session.progress;
  const over = !session.in_progress;
  useScreenLit(!over && !paused);

  const set = tally.now === undefined ? undefined : report.sets[tally.now];
  const block = tally.now === undefined ? undefined : session.blocks[tally.now];
  const standing = tally.strokes.filter((stroke) => !stroke.aside);
  const last = standing[standing.length - 1];
  // Any reading that waits for a decision, the latest first.
  const doubtful = standing.findLast((stroke) => stroke.doubt);
  const spoken = useRef(last?.shot);
  useEffect(() => {
    if (!last?.speed || spoken.current === last.shot) return;
    spoken.current = last.shot;
    speak(words.field("speed", last.speed));
  }, [last, words]);

  // Keys come faster than the screen is drawn.
  const latest = useRef("");
  const refused = useRef(false);
  const put = (text: string) => {
    latest.current = text;
    refused.current = false;
    setTyped(text);
    setTrouble("");
  };
  const keep = () => {
    const text = latest.current;
    if (!text) return;
    const [least = 0, most = 0] = view.range;
    const value = Number(text);
    const inside = internal(value) >= least && internal(value) <= most;
    const digits = text.split(".")[0] ?? "";
    if (!inside || digits.length > MOST_DIGITS || Number.isNaN(value)) {
      refused.current = true;
      setTrouble(
        `${text} ${words.symbol("speed")} is no swing: ${words.bare("speed", least)} to ${words.show("speed", most)}. Correct it, or press Escape.`,
      );
      return;
    }
    const unit = words.suffix("speed");
    const shot = uuid();
    const what = `club speed ${text} ${words.symbol("speed")}`;
    mat.enter(shot, [{ quantity: "club_speed", given: { value, unit } }], what);
    put("");
    setDone({ what: `${text} kept`, undo: () => takeBack(shot) });
  };
  const takeBack = (shot: string) => {
    const number = tally.strokes.findIndex((stroke) => stroke.shot === shot) + 1;
    const of = { id: shot, number: number || tally.strokes.length + 1 };
    mat.mark(of, { kind: "set_aside", reason: "device", note: "" }, "taken back");
    const again = () => mat.mark(of, { kind: "withdraw" }, "kept after all");
    setDone({ what: "The last swing is taken back", undo: again });
  };
  const undo = () => {
    if (done?.undo) {
      done.undo();
      if (done.what.startsWith("The last")) setDone(undefined);
    } else if (last) takeBack(last.shot);
  };
  const repeat = () => {
    const of = block ?? session.blocks[session.blocks.length - 1];
    if (!of) return;
    mat.repeat(
      of,
      session.blocks.filter((b) => !b.begun),
    );
    setDone({ what: `“${of.label}” comes once more` });
  };
  const pause = () => mat.act({ kind: paused ? "resume" : "pause" }, paused ? "resumed" : "paused");
  const press = (key: string): boolean => {
    const act = asked("run", key);
    // After a refusal the next digit begins the next reading; Backspace mends the one refused.
    if (/^[0-9]$/.test(key)) put(refused.current ? key : latest.current + key);
    else if ((key === "." || key === ",") && !latest.current.includes("."))
      put(`${latest.current}.`);
    else if (key === "Backspace" && latest.current) put(latest.current.slice(0, -1));
    else if (key === "Escape" && latest.current) put("");
    else if (key === "Enter") keep();
    else if (act === "run_undo" || key === "Backspace") undo();
    else if (act === "run_repeat") repeat();
    else if (act === "run_skip" && block) setAsking("skip");
    else if (act === "run_pause") pause();
    else if (key === "Escape") setAsking("stop");
    else return false;
    return true;
  };
  useEffect(() => {
    if (over) return;
    const pressed = (event: KeyboardEvent) => {
      if (asking || event.defaultPrevented) return;
      // A digit or Enter is a reading wherever the focus is, but in a field.
      if (isTyping(event) && !(event.key === "Enter" && latest.current)) return;
      if (event.key.length === 1 && !keysAreOn()) return;
      if (press(event.key)) event.preventDefault();
    };
    addEventListener("keydown", pressed);
    return () => removeEventListener("keydown", pressed);
  });

  const skip = (reason: string) => {
    if (!block) return;
    mat.act({ kind: "skip_set", block: block.id, reason }, `“${block.label}” left out`);
    const back = () => mat.act({ kind: "take_up_set", block: block.id }, "taken up after all");
    setDone({ what: `“${block.label}” is left out`, undo: back });
  };
  const finished = over || tally.now === undefined;
  return (
    <div className={css.run}>
      <header className={css.head}>
        <p>
          <Link to={`/players/${session.player}/programme`}>{session.player_name}</Link>
          <span className="quiet">
            {" "}
            {[view.by?.protocol_name ?? session.purpose, view.by && `level ${view.by.level_name}`]
              .filter(Boolean)
              .join(" · ")}
            {view.by?.lighter && ", lighter"}
            {set && tally.now !== undefined && ` · set ${tally.now + 1} of ${report.sets.length}`}
            {" · "}
            {/* Taken from the session before: to be put right where it is another. */}
            <Link to={`/sessions/${session.id}/prepare`}>{session.place.toLowerCase()}</Link>
          </span>
        </p>
        <div className={css.acts}>
          {live === "away" && !over && <span className="now">server away</span>}
          {!over && (
            <button type="button" className="link" onClick={pause}>
              {paused ? "Go on" : "Pause"}
            </button>
          )}
          {!over && <BoardButton session={session.id} />}
          {over ? (
            <Button onClick={() => progress.mutate(true)}>Resume</Button>
          ) : (
            <Button onClick={() => setAsking("stop")}>Stop</Button>
          )}
        </div>
      </header>
      <OutboxNotice />
      <HoldNotice session={session} />
      {session.progress.stopped && !session.progress.held && (
        <p className={css.stopped} role="status">
          <b>No all-out swing follows:</b> {session.progress.stopped}. Gentle sets, or the end.
        </p>
      )}
      {view.stop && (
        <>
          <StopNotice stop={view.stop} words={words} act={mat.act} />
          <p className={css.heed}>
            <Button
              type="primary"
              onClick={() => mat.act({ kind: "stop", reason: "as advised" }, "stopped")}
            >
              Stop all-out swings
            </Button>
          </p>
        </>
      )}
      {view.asks_for_warm_up && <AskWarmUp session={session.id} act={mat.act} />}
      {finished && !over && report.strokes.length > 0 && (
        <p className={css.whole}>
          <b>
            {report.sets.some((one) => one.held) ? "Nothing gentle is left." : "All sets are made."}
          </b>{" "}
          <Button type="primary" onClick={() => progress.mutate(false)}>
            End session
          </Button>
        </p>
      )}
      {finished ? (
        <RunEnd view={view} words={words} />
      ) : (
        set && (
          <main className={css.main}>
            <section className={css.now} aria-label="The set" aria-live="polite">
              <h1 className={css.what}>
                <SetWords set={set} />
              </h1>
              <div className={css.how}>
                {Math.min((tally.done[tally.now ?? 0] ?? 0) + 1, set.asked)} of {set.asked}
                {set.effort_pct != null && ` · ${effort(set)}`}
                {report.rest && !paused && !typed && (
                  <RestTimer
                    since={report.rest.since}
                    seconds={report.rest.seconds}
                    count={countDown}
                  />
                )}
              </div>
              {set.full && <Care said={view.cautions} />}
              <Reading last={last} tally={tally} view={view} words={words} />
              <RunStrip
                strokes={tally.strokes.filter((stroke) => stroke.set === tally.now)}
                set={set}
                words={words}
              />
              {doubtful?.doubt && (
                <p className={css.doubt}>
                  {said(doubtful.doubt, words)}{" "}
                  <button
                    type="button"
                    className="link"
                    onClick={() =>
                      mat.mark(
                        { id: doubtful.shot, number: tally.strokes.indexOf(doubtful) + 1 },
                        { kind: "keep" },
                        "kept",
                      )
                    }
                  >
                    Keep
                  </button>{" "}
                  <button type="button" className="link" onClick={() => takeBack(doubtful.shot)}>
                    Set aside
                  </button>
                </p>
              )}
              {trouble && (
                <p className={css.trouble} role="alert">
                  {trouble}
                </p>
              )}
              {done && (
                <p className={css.done} role="status">
                  {done.what}.{" "}
                  {done.undo && (
                    <button type="button" className="link" onClick={undo}>
                      <KeyHint of="run_undo" /> undo
                    </button>
                  )}
                </p>
              )}
            </section>
            <aside className={css.side}>
              {paused && <p className={css.paused}>Paused: readings are set aside.</p>}
              {view.concerns.map((concern) => (
                <p key={said(concern, words)} className="quiet">
                  {said(concern, words)}
                </p>
              ))}
              <RunSets view={view} tally={tally} words={words} />
              <p className={css.setActs}>
                <button type="button" className="link" onClick={repeat}>
                  <KeyHint of="run_repeat" /> set once more
                </button>
                <button type="button" className="link" onClick={() => setAsking("skip")}>
                  <KeyHint of="run_skip" /> leave it out
                </button>
                <VoiceSwitch />
              </p>
              <Practice
                session={session}
                stop={() => mat.act({ kind: "practice_ends" }, "practice stopped")}
              />
            </aside>
            <RunKeypad typed={typed} press={press} words={words} />
          </main>
        )
      )}
      <OneKey
        title="Leave this set out: why?"
        open={asking === "skip"}
        close={() => setAsking(undefined)}
        choices={[
          { k: "t", label: "tired", act: () => skip("tired") },
          { k: "s", label: "sore", act: () => skip("sore") },
          { k: "i", label: "no such implement here", act: () => skip("no such implement here") },
          { k: "o", label: "no time, or something else", act: () => skip("no time") },
        ]}
      />
      <OneKey
        title="Stop"
        open={asking === "stop"}
        close={() => setAsking(undefined)}
        choices={[
          { k: "e", label: "End the session", act: () => progress.mutate(false) },
          {
            k: "g",
            label: "No more all-out swings; gentle sets go on",
            act: () => mat.act({ kind: "stop", reason: "the player wanted to stop" }, "stopped"),
          },
          {
            k: "p",
            label: "Pain: hold everything at full effort",
            act: () =>
              mat.act({ kind: "hold", reason: "pain during the session" }, "held for pain"),
          },
        ]}
      />
    </div>
  );
}

/** What to be careful about: the gravest always, the rest at a tap. */
function Care({ said: all }: { said: string[] }) {
  const [first, ...others] = all;
  return (
    <details className={css.care}>
      <summary>{first}</summary>
      <Cautions said={others} />
    </details>
  );
}

/** How hard a set is swung. */
function effort({ full, effort_pct, of }: RunView["report"]["sets"][number]): string {
  if (full) return "all-out";
  return of.swung ? `${effort_pct} %` : "as usual";
}

/** What is swung, from which side, and how the player stands. */
function SetWords({ set }: { set: RunView["report"]["sets"][number] }) {
  const { swung } = set.of;
  if (!swung) return <>{set.label}</>;
  const side = swung.side === "other" ? "other side" : swung.side === "dominant" ? "own side" : "";
  const position = swung.position && swung.position !== "normal" ? swung.position : "";
  return (
    <>
      {swung.implement}
      {side && <span>, {side}</span>}
      {position && <em> {position}</em>}
    </>
  );
}

/** The last reading, and how it stands to what there is to beat. */
function Reading(props: { last?: Stroke; tally: Tally; view: RunView; words: Words }) {
  const { last, tally, view, words } = props;
  const at = last?.set ?? tally.now ?? 0;
  const set = view.report.sets[at];
  if (!last?.speed) {
    return (
      <p className={css.ready}>
        Swing: the reading stands here.
        {set?.last && <> To beat: {words.show("speed", set.last.best)}.</>}
      </p>
    );
  }
  const others = tally.strokes.filter(
    (stroke) => stroke.set === at && !stroke.aside && stroke.shot !== last.shot,
  );
  const best = others.every((stroke) => (stroke.speed ?? 0) < (last.speed ?? 0));
  return (
    <div className={css.reading}>
      <p className={css.number}>
        {words.bare("speed", last.speed).replace(/[.,]0$/, "")}
        <small>{words.symbol("speed")}</small>
      </p>
      <div className={css.beside}>
        {last.waiting ? (
          <p className="quiet">kept here, to be sent</p>
        ) : last.beat ? (
          <p className={css.beat}>▲ beat last time</p>
        ) : (
          best && others.length > 0 && <p className={css.beat}>best of this set</p>
        )}
        {last.ball !== undefined && <p>ball {words.show("speed", last.ball)}</p>}
        {set?.best != null && <p>best {words.bare("speed", set.best)}</p>}
        {set?.last && at !== tally.now && <p>to beat {words.bare("speed", set.last.best)}</p>}
        {set?.record != null && set.record !== set.last?.best && (
          <p className="quiet">record {words.bare("speed", set.record)}</p>
        )}
        {set?.mean != null && <p className="quiet">average {words.bare("speed", set.mean)}</p>}
      </div>
    </div>
  );
}

function VoiceSwitch() {
  const [voice, choose] = useChoice(voiceChoice);
  return (
    <button
      type="button"
      className="link"
      aria-pressed={voice === "on"}
      onClick={() => choose(voice === "on" ? "off" : "on")}
    >
      voice {voice}
    </button>
  );
}
