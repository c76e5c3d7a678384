// Any sets of a player's balls against each other, and on a hole: blocks, sessions,
// dates, clubs, heads, balls.

import { useQuery } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { answered, api, type Schemas } from "../app/api";
import { keys } from "../app/keys";
import { useWords, type Words } from "../app/vocabulary";
import { useAsk } from "../ui/ask";
import { DayField } from "../ui/DayField";
import { day } from "../ui/day";
import { useHeld } from "../ui/held";
import { Loading, Nothing, Trouble } from "../ui/Notice";
import { said } from "../ui/Said";
import { asked, askingFrom, CompareAsking } from "./CompareAsking";
import css from "./ComparePage.module.css";
import { CompareView } from "./CompareView";
import { ComparisonLog } from "./ComparisonLog";
import { DecisionBox } from "./DecisionBox";
import { holeFromAddress, holeToAddress } from "./HoleForm";
import { HoleView } from "./HoleView";
import { type SetAsked, useBallSources, useCompare, useDecisions } from "./queries";
import trialsCss from "./trials.module.css";
import { Views } from "./Views";

/** A set as it is put together here. */
type Picked = Schemas["SetAsked"];

export function ComparePage() {
  const { player = "" } = useParams();
  const words = useWords();
  const sources = useBallSources(player);
  const found = useQuery({
    queryKey: keys.player.all(player),
    queryFn: () => answered(api.GET("/api/v1/players/{player}", { params: { path: { player } } })),
  });
  if (found.isError) return <Trouble error={found.error} retry={found.refetch} />;
  if (!found.data || !sources.data || !words) return <Loading />;
  return (
    <div className="session compare">
      <div className="session-head">
        <div>
          <h1>
            <Link to={`/players/${player}`}>{found.data.name}</Link>
          </h1>
          <p className="quiet">Any balls against any others</p>
        </div>
      </div>
      {sources.data.length === 0 ? (
        <Nothing title="No balls yet">
          <p>Sets are chosen from sessions; this player has none with shots.</p>
        </Nothing>
      ) : (
        <Compare player={player} sources={sources.data} words={words} />
      )}
    </div>
  );
}

const VIEWS = [
  ["comparison", "Comparison"],
  ["hole", "Hole"],
] as const;

interface Props {
  player: string;
  sources: Schemas["BallSource"][];
  words: Words;
}

function setsFrom(params: URLSearchParams): Picked[] {
  return params.getAll("set").flatMap((text) => {
    try {
      const set = JSON.parse(text) as Picked;
      return typeof set.label === "string" ? [set] : [];
    } catch {
      return [];
    }
  });
}

function Compare({ player, sources, words }: Props) {
  const [params, setParams] = useSearchParams();
  const sets = setsFrom(params);
  const view = params.get("view") ?? "comparison";
  const ask = useAsk();
  const putSets = (next: Picked[]) =>
    setParams(
      (now) => {
        const into = new URLSearchParams(now);
        into.delete("set");
        for (const set of next) into.append("set", JSON.stringify(set));
        return into;
      },
      { replace: true },
    );
  return (
    <>
      <SetBuilder
        sources={sources}
        sets={sets}
        words={words}
        add={(set) => putSets([...sets, set])}
        remove={(at) => putSets(sets.filter((_, i) => i !== at))}
        first={(at) => putSets([...sets].sort((a) => (a === sets[at] ? -1 : 0)))}
      />
      <Views views={VIEWS} view={view} onView={(view) => ask({ view })} />
      {view === "hole" ? (
        <OnHole player={player} sets={sets} words={words} ask={ask} />
      ) : (
        <Against player={player} sets={sets} words={words} ask={ask} />
      )}
    </>
  );
}

interface ViewProps {
  player: string;
  sets: SetAsked[];
  words: Words;
  ask: (part: Record<string, string>) => void;
}

function Against({ player, sets, words, ask }: ViewProps) {
  const [params] = useSearchParams();
  const decisions = useDecisions(player);
  const asking = askingFrom(params, "carry", words);
  if (sets.length < 2)
    return (
      <p className={css.viewsHint}>
        {sets.length === 0 ? "Add two sets." : "Add a second set."} The first is what the others are
        held against.
      </p>
    );
  return (
    <AgainstSets
      {...{ player, sets, words, ask, asking }}
      decisions={(decisions.data ?? []).filter((d) => !d.session)}
    />
  );
}

function AgainstSets(
  props: ViewProps & {
    asking: ReturnType<typeof askingFrom>;
    decisions: Schemas["DecisionView"][];
  },
) {
  const { player, sets, words, ask, asking, decisions } = props;
  const found = useCompare(player, asked(asking, sets, words));
  const report = useHeld(found.data);
  if (!report)
    return found.isError ? <Trouble error={found.error} retry={found.refetch} /> : <Loading />;
  return (
    <CompareView report={report} words={words}>
      <CompareAsking
        key={words.units}
        asking={asking}
        onAsk={ask}
        report={report}
        error={found.error}
        words={words}
      />
      <DecisionBox player={player} verdict={report.verdict} decisions={decisions} words={words} />
      <ComparisonLog player={player} words={words} />
    </CompareView>
  );
}

function OnHole({ player, sets, words, ask }: ViewProps) {
  const [params] = useSearchParams();
  if (sets.length === 0)
    return <p className={css.viewsHint}>Add the efforts or clubs to weigh on a hole.</p>;
  return (
    <HoleView
      player={player}
      choices={sets}
      criterion={(params.get("criterion") as Schemas["Criterion"] | null) ?? "strokes"}
      onCriterion={(criterion) => ask({ criterion })}
      hole={holeFromAddress(params.get("hole"), words)}
      onHole={(hole) => ask({ hole: holeToAddress(hole, words) })}
      words={words}
    />
  );
}

const BALLS = ["premium", "competition", "range"];

function SetBuilder(props: {
  sources: Schemas["BallSource"][];
  sets: Picked[];
  words: Words;
  add: (set: Picked) => void;
  remove: (at: number) => void;
  first: (at: number) => void;
}) {
  const { sources, sets, words, add, remove, first } = props;
  const [label, setLabel] = useState("");
  const [session, setSession] = useState<string>();
  const [block, setBlock] = useState<string>();
  const [club, setClub] = useState<string>();
  const [head, setHead] = useState<string>();
  const [ball, setBall] = useState<string>();
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const source = sources.find((s) => s.session === session);
  const blocks = [...new Set((source ? [source] : sources).flatMap((s) => s.blocks))];
  const clubs = [...new Set((source ? [source] : sources).flatMap((s) => s.clubs))];
  const heads = new Map(
    sources.flatMap((s) =>
      s.bag_club && s.head ? [[s.bag_club, said(s.head, words)] as const] : [],
    ),
  );
  const parts = [
    block,
    club && words.club(club).toLowerCase(),
    head && heads.get(head),
    ball && `${ball} ball`,
    source && day(source.started_at, source.zone),
    from && `from ${from}`,
    to && `to ${to}`,
  ].filter(Boolean);
  const named = label.trim() || parts.join(", ");
  const empty = !session && !block && !club && !head && !ball && !from && !to;
  const next = (date: string) => new Date(new Date(`${date}T00:00:00`).getTime() + 86_400_000);
  const submit = () => {
    const taken = sets.some((s) => s.label === named);
    add({
      label: taken ? `${named} (${sets.length + 1})` : named,
      session: session ?? null,
      blocks: block ? [block] : null,
      club: club ?? null,
      bag_club: head ?? null,
      ball: ball ?? null,
      from: from ? new Date(`${from}T00:00:00`).toISOString() : null,
      // The last day counts.
      to: to ? next(to).toISOString() : null,
    });
    setLabel("");
    setBlock(undefined);
  };
  const choice = (
    name: string,
    value: string | undefined,
    set: (value: string | undefined) => void,
    options: { value: string; label: string }[],
  ) => (
    <label>
      <span>{name}</span>
      <Select
        aria-label={name}
        allowClear
        value={value}
        onChange={set}
        placeholder="any"
        popupMatchSelectWidth={false}
        options={options}
      />
    </label>
  );
  return (
    <section className={css.setBuilder} aria-label="Sets">
      <ol className={css.sets}>
        {sets.map((set, i) => (
          <li key={set.label}>
            <b>{set.label}</b>
            {i === 0 ? (
              <small>held against</small>
            ) : (
              <button type="button" className="link" onClick={() => first(i)}>
                hold against this
              </button>
            )}
            <button
              type="button"
              className="link"
              aria-label={`Take “${set.label}” away`}
              onClick={() => remove(i)}
            >
              take away
            </button>
          </li>
        ))}
      </ol>
      <div className={`askings ${trialsCss.askings}`}>
        {choice(
          "Session",
          session,
          setSession,
          sources.map((s) => ({
            value: s.session,
            label: `${day(s.started_at, s.zone)}, ${s.purpose.toLowerCase()}`,
          })),
        )}
        {choice(
          "Block",
          block,
          setBlock,
          blocks.map((b) => ({ value: b, label: b })),
        )}
        {choice(
          "Club",
          club,
          setClub,
          clubs.map((c) => ({ value: c, label: words.club(c) })),
        )}
        {heads.size > 0 &&
          choice(
            "Head",
            head,
            setHead,
            [...heads].map(([value, label]) => ({ value, label })),
          )}
        {choice(
          "Ball",
          ball,
          setBall,
          BALLS.map((b) => ({ value: b, label: b })),
        )}
        <label>
          <span>From</span>
          <DayField aria-label="From" value={from} onChange={(day) => setFrom(day)} />
        </label>
        <label>
          <span>To</span>
          <DayField aria-label="To" value={to} onChange={(day) => setTo(day)} />
        </label>
        <label className="wide">
          <span>Called</span>
          <Input
            aria-label="Called"
            value={label}
            placeholder={named}
            onChange={(e) => setLabel(e.target.value)}
          />
        </label>
        <Button onClick={submit} disabled={empty}>
          Add this set
        </Button>
      </div>
      {empty && <p className="quiet">Say which balls: one choice is enough, more narrow it.</p>}
    </section>
  );
}
