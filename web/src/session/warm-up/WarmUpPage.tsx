// The Warm up station: movements to tick off, how ready the player is, and when to hold
// back. Skipping is possible and is recorded.

import { useQuery } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import { answered, api, type Schemas } from "../../app/api";
import { keys } from "../../app/keys";
import { useWords } from "../../app/vocabulary";
import { atTheMat } from "../../mat/acts";
import { isTyping } from "../../ui/keys";
import { Loading, Trouble } from "../../ui/Notice";
import { useLive } from "../queries";
import { SessionHead } from "../SessionHead";
import { Readiness } from "./Readiness";
import css from "./WarmUpPage.module.css";

type WarmUp = Schemas["WarmUpView"];

export function WarmUpPage() {
  const { session = "" } = useParams();
  const words = useWords();
  const live = useLive(session);
  const found = useQuery({
    queryKey: keys.session.warmUp(session),
    queryFn: () =>
      answered(api.GET("/api/v1/sessions/{session}/warm-up", { params: { path: { session } } })),
  });
  if (found.isError && !found.data) return <Trouble error={found.error} retry={found.refetch} />;
  if (!found.data || !words) return <Loading />;
  return (
    <div className="session">
      <SessionHead session={found.data.session} words={words} live={live} />
      <Body key={session} told={found.data} />
    </div>
  );
}

function Body({ told }: { told: WarmUp }) {
  const { session, movements, cautions } = told;
  const { progress } = session;
  const mat = atTheMat(session.id);
  // Ticks answer at once; the server's word follows.
  const [ticked, setTicked] = useState<string[]>(progress.done);
  const heard = progress.done.join();
  useEffect(() => setTicked(progress.done), [heard]);
  const next = movements.find((m) => !ticked.includes(m.key));
  const toggle = (movement: Schemas["Movement"]) => {
    const done = ticked.includes(movement.key);
    setTicked(done ? ticked.filter((key) => key !== movement.key) : [...ticked, movement.key]);
    mat.act(
      { kind: done ? "untick" : "tick", movement: movement.key },
      `${movement.label} ${done ? "unticked" : "ticked"}`,
    );
  };
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      if (event.key !== " " || isTyping(event) || !next) return;
      event.preventDefault();
      toggle(next);
    };
    addEventListener("keydown", pressed);
    return () => removeEventListener("keydown", pressed);
  });
  const done = movements.filter((m) => ticked.includes(m.key)).length;
  return (
    <div className={css.warmUp}>
      <section aria-label="Movements">
        <h2 className="verdict">
          {progress.skipped
            ? "The warm-up was skipped."
            : next
              ? `${next.label}, ${times(next)}`
              : "Warm."}
        </h2>
        <p className="detail">
          {progress.skipped
            ? "That is in the record."
            : next
              ? `${next.how}. Space bar ticks it off.`
              : "All movements are done."}
        </p>
        <ol className={css.movements}>
          {movements.map((movement) => {
            const isDone = ticked.includes(movement.key);
            return (
              <li key={movement.key}>
                <button
                  type="button"
                  className={css.movement}
                  aria-pressed={isDone}
                  data-next={movement === next || undefined}
                  onClick={() => toggle(movement)}
                >
                  <span className={css.tick} aria-hidden="true">
                    {isDone ? "✓" : ""}
                  </span>
                  <span className={css.movementName}>{movement.label}</span>
                  <span className={css.movementHow}>{movement.how}</span>
                  <span className={css.movementTimes}>{times(movement)}</span>
                </button>
              </li>
            );
          })}
        </ol>
        <div className={css.warmUpFoot}>
          <Stopwatch />
          <span className="quiet">
            {done} of {movements.length} done
          </span>
          <button
            type="button"
            className="link"
            onClick={() =>
              mat.act(
                { kind: progress.skipped ? "take_up_warm_up" : "skip_warm_up" },
                progress.skipped ? "warm-up taken up" : "warm-up skipped",
              )
            }
          >
            {progress.skipped ? "Warm up after all" : "Skip the warm-up"}
          </button>
        </div>
      </section>
      <section aria-label="Readiness">
        <Readiness
          answers={progress.readiness ?? undefined}
          save={(readiness) => mat.act({ kind: "readiness", ...readiness }, "readiness answered")}
        />
        <Hold
          session={session}
          hold={(reason) => mat.act({ kind: "hold", reason }, "full effort held")}
          lift={(reason) => mat.act({ kind: "lift", reason }, "hold lifted")}
        />
        <ul className={css.cautions}>
          {cautions.map((caution) => (
            <li key={caution}>{caution}</li>
          ))}
        </ul>
        <Link to={`/sessions/${session.id}/hit`} className={css.toNext}>
          To the mat
        </Link>
      </section>
    </div>
  );
}

function times(movement: Schemas["Movement"]): string {
  const { repetitions, each_side } = movement;
  return each_side ? `${repetitions} each side` : `${repetitions} times`;
}

/** Time since it was started. */
function Stopwatch() {
  const [began, setBegan] = useState<number>();
  const [now, setNow] = useState(0);
  useEffect(() => {
    if (began === undefined) return;
    const beat = setInterval(() => setNow(Date.now()), 500);
    return () => clearInterval(beat);
  }, [began]);
  const seconds = began === undefined ? 0 : Math.max(0, Math.floor((now - began) / 1000));
  const shown = `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
  return (
    <button
      type="button"
      className={css.stopwatch}
      onClick={() => {
        setNow(Date.now());
        setBegan(began === undefined ? Date.now() : undefined);
      }}
    >
      <b>{shown}</b> {began === undefined ? "start" : "stop"}
      <span className="sr-only"> the timer</span>
    </button>
  );
}

interface HoldProps {
  session: Schemas["SessionView"];
  hold: (reason: string) => void;
  lift: (reason: string) => void;
}

/** Holding and lifting: each with a reason that stays in the record. */
function Hold({ session, hold, lift }: HoldProps) {
  const { held, lifted } = session.progress;
  const [reason, setReason] = useState("");
  const [asking, setAsking] = useState(false);
  const give = (take: (reason: string) => void) => {
    if (reason.trim() === "") return;
    take(reason.trim());
    setReason("");
    setAsking(false);
  };
  const label = held ? "Why it may be lifted" : "Why full effort is held";
  return (
    <div className={held ? `${css.holdBox} held ${css.held}` : css.holdBox}>
      {held ? (
        <p>
          <b>Full-effort blocks are held:</b> {held}.
        </p>
      ) : (
        <p className="quiet">
          {lifted ? `The hold was lifted: ${lifted}.` : "Nothing is held."}{" "}
          {!asking && (
            <button type="button" className="link" onClick={() => setAsking(true)}>
              Hold full effort
            </button>
          )}
        </p>
      )}
      {(held || asking) && (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            give(held ? lift : hold);
          }}
        >
          <Input
            aria-label={label}
            placeholder={label}
            value={reason}
            onChange={(e) => setReason(e.target.value)}
          />
          <Button htmlType="submit" disabled={reason.trim() === ""}>
            {held ? "Lift the hold" : "Hold"}
          </Button>
        </form>
      )}
    </div>
  );
}
