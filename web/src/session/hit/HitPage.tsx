// The Hit station: the strip is the screen. The newest stroke, the band it aimed for,
// and one great number; one key or tap for whatever happens to a ball.

import { useEffect, useMemo, useState } from "react";
import { useParams } from "react-router";
import { v7 as uuid } from "uuid";
import type { Quantity, Schemas } from "../../app/api";
import { asked, keysAreOn, useKeyOf } from "../../app/shortcuts";
import { useWords, type Words } from "../../app/vocabulary";
import { atTheMat } from "../../mat/acts";
import { day } from "../../ui/day";
import { Face } from "../../ui/Face";
import { KeyHint } from "../../ui/KeyHint";
import { isTyping } from "../../ui/keys";
import { Loading, Trouble } from "../../ui/Notice";
import { said } from "../../ui/Said";
import { TallyStrip } from "../../ui/TallyStrip";
import { STANDINGS } from "../../ui/words";
import { BoardButton } from "../board/BoardButton";
import { Cautions } from "../Cautions";
import { NumbersChoice } from "../NumbersChoice";
import { useLive, useRecordsToBeat } from "../queries";
import { SetAside } from "../read/SetAside";
import { HoldNotice, SessionHead } from "../SessionHead";
import sessionCss from "../session.module.css";
import { aimWords, ballWords } from "./at";
import { CallOut } from "./CallOut";
import { GiveTo } from "./GiveTo";
import css from "./HitPage.module.css";
import { Keypad } from "./Keypad";
import { type Meant, useMeant } from "./meant";
import { NextBlock } from "./NextBlock";
import { Great, GreatWords, Other } from "./Numbers";
import { Practice } from "./Practice";
import { type HitView, useHit } from "./queries";
import { RestTimer } from "./RestTimer";
import { AskWarmUp, StopNotice } from "./StopNotice";
import { hitOf, hitStrip } from "./strip";

export function HitPage() {
  const { session = "" } = useParams();
  const words = useWords();
  const hit = useHit(session);
  const live = useLive(session, hit.data?.session.in_progress === false);
  if (hit.isError && !hit.data) return <Trouble error={hit.error} retry={hit.refetch} />;
  if (!hit.data || !words) return <Loading />;
  return <Hit key={session} view={hit.data} words={words} live={live} />;
}

function Hit({ view, words, live }: { view: HitView; words: Words; live: "live" | "away" }) {
  const { session, report, shots } = view;
  const [chosen, setChosen] = useState<string>();
  // Each is held with the shot that it was opened for: others may come meanwhile.
  const [askingFor, setAskingFor] = useState<Meant>();
  const [givingTo, setGivingTo] = useState<Meant>();
  const [keypad, setKeypad] = useState<{ of?: Meant }>();
  const [done, setDone] = useState<Done>();
  const undoKey = useKeyOf("undo");
  const mat = atTheMat(session.id);
  const newest = shots.length - 1;
  const last = shots[newest];
  const at = shots.findIndex((shot) => shot.id === chosen);
  // The newest shot, unless the coach looks at another one.
  const index = at < 0 ? newest : at;
  const shot = shots[index];
  const judged = report.shots[index];
  const { place } = report;
  const next = place.next == null ? undefined : session.blocks[place.next];
  const { paused, held } = session.progress;
  // Blocks that were begun, other than the one this ball is in.
  const others = session.blocks.filter((block) => block.begun && block.id !== shot?.block);

  const { meant, chosen: isMeant } = useMeant(shot && { id: shot.id, number: index + 1 });
  const mark = (act: Schemas["Act"], what: string) => {
    const of = meant();
    if (!of) return;
    mat.mark(of, act, what);
    const undo = () => mat.mark(of, { kind: "withdraw" }, "taken back");
    const can = act.kind === "set_aside" || act.kind === "keep";
    setDone({ what: `Shot ${of.number} ${what}`, undo: can ? undo : undefined });
  };
  const begin = (block: { id: string; label: string }) => {
    mat.beginBlock(block.id, block.label);
    setDone({
      what: `“${block.label}” is on`,
      undo: () => mat.takeBackBlock(block.id, block.label),
    });
  };
  const undo = () => {
    if (done?.undo) {
      done.undo();
      setDone(undefined);
    } else if (shot?.decided) {
      mark({ kind: "withdraw" }, "taken back");
    }
  };
  const acts: Record<string, () => void> = {
    set_aside: () => setAskingFor(meant()),
    missed_feel: () =>
      mark({ kind: "set_aside", reason: "missed_feel", note: "" }, "missed its feel"),
    undo,
    keep: () => mark({ kind: "keep" }, "kept"),
    next: () => next && begin(next),
    pause: () => mat.act({ kind: paused ? "resume" : "pause" }, paused ? "resumed" : "paused"),
    enter: () => setKeypad({}),
    correct: () => {
      const of = meant();
      if (of) setKeypad({ of });
    },
    give: () => others.length > 0 && setGivingTo(meant()),
  };
  const strike = (cell: number) => mark({ kind: "strike", cell }, `struck ${cell}`);
  const onKey = (key: string): boolean => {
    const act = asked("hit", key);
    if (keysAreOn() && /^[1-9]$/.test(key)) strike(Number(key));
    else if (act && acts[act]) acts[act]();
    else return false;
    return true;
  };
  const select = (to: number) => {
    setChosen(to === newest ? undefined : shots[to]?.id);
    setDone(undefined);
    // What the coach turns to is meant at once.
    requestAnimationFrame(isMeant);
  };
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      if (isTyping(event) || keypad || askingFor || givingTo || event.defaultPrevented) return;
      if (event.key === "ArrowLeft") select(Math.max(0, index - 1));
      else if (event.key === "ArrowRight") select(Math.min(newest, index + 1));
      else if (!onKey(event.key)) return;
      event.preventDefault();
    };
    addEventListener("keydown", pressed);
    return () => removeEventListener("keydown", pressed);
  });

  const strip = useMemo(() => hitStrip(hitOf(view), words), [view, words]);
  const greatest = report.shown[0];
  const records = useRecordsToBeat(session.player, session.club_key, session.id).data;
  const record = records?.find((told) => told.quantity === greatest)?.best;
  return (
    <div className={`session ${css.hit}`}>
      <SessionHead session={session} words={words} live={live} />
      <HoldNotice session={session} />
      {view.stop && <StopNotice stop={view.stop} words={words} act={mat.act} />}
      {session.progress.went_on && (
        <p className={`quiet ${css.wentOn}`}>All-out swings went on: {session.progress.went_on}</p>
      )}
      {view.asks_for_warm_up && <AskWarmUp session={session.id} act={mat.act} />}
      <div className={css.hitTop}>
        <section className={css.hitShot} aria-label="The shot" aria-live="polite">
          {report.shown.length === 0 ? (
            <p className={css.greatWord}>Every number is hidden in this session.</p>
          ) : (
            <>
              <div className="great">
                <Great quantity={greatest} shot={shot} words={words} />
                <p className={css.greatWord}>
                  {greatest && (
                    <GreatWords quantity={greatest} view={view} index={index} words={words} />
                  )}
                </p>
              </div>
              <dl className={css.others}>
                {report.shown.slice(1).map((quantity) => (
                  <Other key={quantity} quantity={quantity} shot={shot} words={words} />
                ))}
              </dl>
            </>
          )}
          {judged && judged.doubts.length > 0 && judged.standing === "doubtful" && (
            <p className={`doubt ${css.doubt}`}>
              {judged.doubts[0] && said(judged.doubts[0].reason, words)}
            </p>
          )}
        </section>
        <section className={css.hitNext} aria-label="What comes next">
          <p className="quiet">{ballWords(place)}</p>
          <p className={css.nextLabel}>{session.blocks[place.block]?.known_as}</p>
          {report.target && <p>{aimWords(report.target, words)}</p>}
          {view.advice && <p className={css.advice}>{said(view.advice, words)}</p>}
          {session.blocks[place.block]?.plan.full_effort && (
            <Cautions said={view.effort_cautions} />
          )}
          {(report.met[1] ?? 0) > 0 && (
            <p className="quiet">
              {report.met[0]} of {report.met[1]} on target in this block
            </p>
          )}
          <p className="quiet">
            block {place.block + 1} of {session.blocks.length} · {place.to_go}{" "}
            {place.to_go === 1 ? "ball" : "balls"} to go
          </p>
          {place.rest_s > 0 && last && !paused && (
            <RestTimer since={last.hit_at} seconds={place.rest_s} />
          )}
          {paused && <p className={css.paused}>Paused: shots that come in are set aside.</p>}
          <NextBlock view={view} begin={begin} add={(label) => mat.addBlock(label)} />
        </section>
      </div>
      <section className={css.hitBand} aria-label="Tally">
        <div className="hit-strip">
          {shots.length > 0 || strip.coming.length > 0 ? (
            <TallyStrip
              shots={strip.shots}
              blocks={session.blocks}
              coming={strip.coming}
              bands={strip.bands}
              tall={176}
              selected={shots.length > 0 ? index : undefined}
              best={report.best ?? undefined}
              newest
              onSelect={select}
              onKey={onKey}
              onOpen={acts.correct ?? (() => {})}
            />
          ) : null}
          <p className={sessionCss.keys}>
            {shot ? (
              <>
                <b>Shot {index + 1}</b> {judged && STANDINGS[judged.standing]}
                <Key id="set_aside" label="set aside" act={acts.set_aside} />
                <Key id="missed_feel" label="missed its feel" act={acts.missed_feel} />
                {judged?.standing === "doubtful" && <Key id="keep" label="keep" act={acts.keep} />}
                {(shot.decided || done?.undo) && <Key id="undo" label="undo" act={acts.undo} />}
                <Key id="correct" label="correct" act={acts.correct} />
                {others.length > 0 && <Key id="give" label="another block" act={acts.give} />}
              </>
            ) : (
              <span>Strokes appear here as shots come in.</span>
            )}
            <Key id="enter" label="enter by hand" act={acts.enter} />
            <Key id="pause" label={paused ? "resume" : "pause"} act={acts.pause} />
            {next && !(held && next.plan.full_effort) && (
              <Key id="next" label={`next: ${next.label}`} act={acts.next} />
            )}
          </p>
          <p className={css.done} role="status">
            {done && `${done.what}.${done.undo && undoKey ? ` ${undoKey} undoes it.` : ""}`}
          </p>
          <p className="quiet">{bandWords(view, greatest, record, words)}</p>
        </div>
        <div className={`hit-side ${css.hitSide}`}>
          <p className={css.sideTitle}>
            Strike of this ball <span className="quiet">numpad</span>
          </p>
          <Face
            cell={shot?.strike ?? undefined}
            leftHanded={session.left_handed}
            choose={strike}
            pinpoint={
              shot &&
              ((toe, high) =>
                mat.enter(
                  shot.id,
                  [
                    { quantity: "impact_toe", given: { value: toe, unit: "mm" } },
                    { quantity: "impact_high", given: { value: high, unit: "mm" } },
                  ],
                  `shot ${index + 1} struck at a point`,
                ))
            }
          />
          <CallOut view={view} words={words} />
          {session.in_progress && <BoardButton session={session.id} />}
          <Hidden view={view} words={words} act={mat.act} />
          <Devices view={view} />
          <Practice
            session={session}
            stop={() => mat.act({ kind: "practice_ends" }, "practice stopped")}
          />
        </div>
      </section>
      <Keypad
        open={keypad !== undefined}
        close={() => setKeypad(undefined)}
        title={keypad?.of ? `Correct shot ${keypad.of.number}` : "Enter a shot"}
        shown={report.shown}
        words={words}
        save={(values, what) =>
          mat.enter(
            keypad?.of?.id ?? uuid(),
            values,
            keypad?.of ? `shot ${keypad.of.number}: ${what}` : what,
          )
        }
      />
      <SetAside
        shot={askingFor}
        cancel={() => setAskingFor(undefined)}
        choose={(of, id, reason, note) => {
          mat.mark(of, { kind: "set_aside", reason, note }, "set aside", id);
          setDone({
            what: `Shot ${of.number} set aside`,
            undo: () => mat.mark(of, { kind: "withdraw" }, "taken back"),
          });
          setAskingFor(undefined);
        }}
      />
      <GiveTo
        shot={givingTo}
        blocks={session.blocks.filter(
          (block) => block.begun && block.id !== shots.find((s) => s.id === givingTo?.id)?.block,
        )}
        cancel={() => setGivingTo(undefined)}
        choose={(of, block) => {
          const before = session.blocks.find(
            (b) => b.id === shots.find((s) => s.id === of.id)?.block,
          );
          mat.giveTo(of, block);
          setDone({
            what: `Shot ${of.number} given to “${block.label}”`,
            undo: before && (() => mat.giveTo(of, before)),
          });
          setGivingTo(undefined);
        }}
      />
    </div>
  );
}

/** What was done last, and how it is undone. */
interface Done {
  what: string;
  undo?: () => void;
}

function Key({ id, label, act }: { id: string; label: string; act?: () => void }) {
  return (
    <button type="button" className={sessionCss.keyAct} onClick={act}>
      <KeyHint of={id} /> {label}
    </button>
  );
}

function bandWords(
  view: HitView,
  greatest: Quantity | undefined,
  record: number | undefined,
  words: Words,
): string {
  if (!greatest) return "";
  const height = `Height: ${words.quantity(greatest).label.toLowerCase()}.`;
  const bands = view.report.bands;
  const last = view.to_beat.find((told) => told.quantity === greatest);
  const { dimension } = words.quantity(greatest);
  const best = record === undefined ? "" : ` Record: ${words.show(dimension, record)}.`;
  const beat = last
    ? ` To beat: ${words.show(dimension, last.best)}, average ${words.bare(dimension, last.mean)}.${best}`
    : best;
  if (bands.length === 0) return height + beat;
  const shaded = bands.some((band) => band.from_last_time)
    ? view.last_at
      ? ` Shaded: what each block gave on ${day(view.last_at, view.session.zone)}.`
      : " Shaded: what each block gave last time."
    : " Shaded: the aim.";
  return height + shaded + beat;
}

function Hidden(props: {
  view: HitView;
  words: Words;
  act: (act: Schemas["SessionAct"], what: string) => void;
}) {
  const { view, words, act } = props;
  const { hidden } = view.session.progress;
  const [choosing, setChoosing] = useState(false);
  const all = [...view.report.shown, ...hidden];
  return (
    <p className={css.hiddenValues}>
      {all.map((quantity) => {
        const label = words.quantity(quantity).label.toLowerCase();
        const isHidden = hidden.includes(quantity);
        return (
          <button
            type="button"
            key={quantity}
            className="link"
            onClick={() =>
              act(
                { kind: isHidden ? "show" : "hide", quantity },
                `${label} ${isHidden ? "shown" : "hidden"}`,
              )
            }
          >
            {isHidden ? "Show" : "Hide"} {label}
          </button>
        );
      })}
      <button type="button" className="link" onClick={() => setChoosing(!choosing)}>
        {choosing ? "Done" : "Other numbers"}
      </button>
      {choosing && (
        <NumbersChoice
          numbers={view.report.shown}
          choose={(quantities) => act({ kind: "numbers", quantities }, "other numbers shown")}
          words={words}
        />
      )}
    </p>
  );
}

function Devices({ view }: { view: HitView }) {
  if (view.devices.length === 0) return <p className="quiet">No device is connected.</p>;
  return (
    <ul className={css.devicesHere}>
      {view.devices.map((device) => (
        <li key={device.id}>
          <i className={device.connected ? css.there : "gone"} aria-hidden="true" />
          {device.name} {device.connected ? "connected" : "not connected"}
        </li>
      ))}
    </ul>
  );
}
