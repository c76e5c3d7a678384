// The Decide station: what the session's test shows, and what to do about it.

import { Select } from "antd";
import { useMemo, useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import type { Quantity, Schemas } from "../app/api";
import { useWords, type Words } from "../app/vocabulary";
import { useLive } from "../session/queries";
import { SessionHead } from "../session/SessionHead";
import { useAsk } from "../ui/ask";
import { useHeld } from "../ui/held";
import { Loading, Trouble } from "../ui/Notice";
import { strokes } from "../ui/strip";
import { type StripShot, TallyStrip } from "../ui/TallyStrip";
import { asked, askingFrom, CompareAsking } from "./CompareAsking";
import { CompareView } from "./CompareView";
import { ComparisonLog } from "./ComparisonLog";
import { DecisionBox } from "./DecisionBox";
import { EffortView } from "./EffortView";
import { EveryTrace, ForceTraces } from "./ForceTraces";
import { type HoleTyped, holeFromAddress, holeToAddress } from "./HoleForm";
import { HoleView } from "./HoleView";
import { type DecideView, type SetAsked, useCompare, useDecide } from "./queries";
import { SpeedLadderView } from "./SpeedLadderView";
import { Views } from "./Views";
import { WarmUpView } from "./WarmUpView";

const VIEWS = [
  ["comparison", "Comparison"],
  ["effort", "Effort"],
  ["speed_ladder", "Speed ladder"],
  ["warm_up", "Warm-up"],
  ["hole", "Hole"],
] as const;
type View = (typeof VIEWS)[number][0];

export function DecidePage() {
  const { session = "" } = useParams();
  const words = useWords();
  const found = useDecide(session);
  if (found.isError && !found.data) return <Trouble error={found.error} retry={found.refetch} />;
  if (!found.data || !words) return <Loading />;
  return <Decide key={session} decide={found.data} words={words} />;
}

function Decide({ decide, words }: { decide: DecideView; words: Words }) {
  const { session, shots, sets } = decide;
  const live = useLive(session.id, !session.in_progress);
  const [params] = useSearchParams();
  const [selected, setSelected] = useState<number>();
  const view = (params.get("view") as View | null) ?? decide.opens_with;
  const club = params.get("club") ?? decide.club;
  const ask = useAsk();
  const criterion = (params.get("criterion") as Schemas["Criterion"] | null) ?? "strokes";
  const hole = holeFromAddress(params.get("hole"), words);
  const asking = {
    criterion,
    onCriterion: (criterion: Schemas["Criterion"]) => ask({ criterion }),
    hole,
    onHole: (hole: HoleTyped) => ask({ hole: holeToAddress(hole, words) }),
  };
  const choices: SetAsked[] = useMemo(
    () =>
      sets
        // Drills between before and after are no test of anything.
        .filter((_, i) => session.purpose_key !== "force" || i === 0 || i === sets.length - 1)
        .map((s) => ({ label: s.label, session: session.id, blocks: s.blocks, club })),
    [sets, session.id, session.purpose_key, club],
  );
  const height = heightOf(decide, view);
  const strip = useMemo(() => decideStrip(decide, height, words), [decide, height, words]);
  const { kept, set_aside, doubtful } = decide.counts;
  const beneath = (verdict: Schemas["Verdict"]) => (
    <DecisionBox
      player={session.player}
      session={session.id}
      verdict={verdict}
      decisions={decide.decisions}
      words={words}
    />
  );
  const of = { session: session.id, club, words, beneath };
  return (
    <div className="session">
      <SessionHead session={session} words={words} live={live} />
      <section className="strip-band" aria-label="Tally">
        <div className="strip-main">
          {shots.length > 0 ? (
            <TallyStrip
              shots={strip}
              blocks={session.blocks}
              selected={selected}
              best={undefined}
              onSelect={setSelected}
              onKey={() => false}
              onOpen={() => {}}
            />
          ) : (
            <p className="strip-empty">Strokes appear here as shots come in.</p>
          )}
        </div>
        <div className="strip-side">
          <p className="quiet">stroke height: {words.quantity(height).label.toLowerCase()}</p>
          <p className="kept">
            <b>{kept}</b> kept
          </p>
          <p className="quiet">
            {set_aside} set aside · {doubtful} doubtful
          </p>
        </div>
      </section>
      <Views views={VIEWS} view={view} onView={(view) => ask({ view })}>
        {decide.clubs.length > 1 && (
          <Select
            aria-label="Club that is looked at"
            variant="borderless"
            value={club}
            popupMatchSelectWidth={false}
            onChange={(club) => ask({ club })}
            options={decide.clubs.map((key) => ({
              value: key as string,
              label: words.club(key),
            }))}
          />
        )}
        <Link to={`/players/${session.player}/compare`}>Compare other sets</Link>
      </Views>
      {session.purpose_key === "force" && <ForceTraces session={session.id} words={words} />}
      {view === "comparison" && (
        <Comparison decide={decide} choices={choices} words={words} ask={ask} beneath={beneath} />
      )}
      {view === "effort" && <EffortView {...of} {...asking} />}
      {view === "speed_ladder" && <SpeedLadderView {...of} />}
      {view === "warm_up" && <WarmUpView {...of} />}
      {view === "hole" && (
        <HoleView
          {...asking}
          player={session.player}
          session={session.id}
          choices={choices}
          words={words}
          beneath={beneath}
        />
      )}
      {session.purpose_key === "force" && <EveryTrace session={session.id} />}
    </div>
  );
}

function Comparison(props: {
  decide: DecideView;
  choices: SetAsked[];
  words: Words;
  ask: (part: Record<string, string>) => void;
  beneath: (verdict: Schemas["Verdict"]) => React.ReactNode;
}) {
  const { decide, choices, words, ask, beneath } = props;
  const { session } = decide;
  const [params] = useSearchParams();
  const asking = askingFrom(params, decide.quantity, words);
  const found = useCompare(session.player, asked(asking, choices, words), session.id);
  const report = useHeld(found.data);
  if (choices.length < 2)
    return (
      <div className="notice">
        <h2>One kind of block only</h2>
        <p>
          A comparison needs two: hit a second block, or{" "}
          <Link to={`/players/${session.player}/compare`}>choose other sets</Link>, such as two
          days.
        </p>
      </div>
    );
  return (
    <>
      {report && (
        <CompareView report={report} words={words}>
          <CompareAsking
            key={words.units}
            asking={asking}
            onAsk={ask}
            report={report}
            error={found.error}
            words={words}
          />
          {beneath(report.verdict)}
          <ComparisonLog player={session.player} words={words} />
        </CompareView>
      )}
      {!report && found.isError && <Trouble error={found.error} retry={found.refetch} />}
      {!report && !found.isError && <Loading />}
    </>
  );
}

function heightOf(decide: DecideView, view: View): Quantity {
  if (view === "comparison") return decide.quantity;
  return view === "hole" ? "carry" : "club_speed";
}

function decideStrip(decide: DecideView, height: Quantity, words: Words): StripShot[] {
  const shots = decide.shots.map((shot, i) => ({
    ...shot,
    number: i + 1,
    value: shot.values[height],
  }));
  return strokes(shots, height, words).shots;
}
