// Bench · Club: what another length, loft, head, shaft or tee would do to a swing.

import { lazy, Suspense, useMemo, useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../app/api";
import { useWords, type Words } from "../app/vocabulary";
import { BenchHead } from "../ui/BenchHead";
import { Dragged, inputOf } from "../ui/Dragged";
import { FormTrouble } from "../ui/FormTrouble";
import { Loading } from "../ui/Notice";
import { said } from "../ui/Said";
import { signed } from "../ui/signed";
import { WorkingLink } from "../ui/Working";
import { conditionsFromAddress, conditionsToAddress } from "./address";
import { ClubChoice, PlayerChoice } from "./Choices";
import css from "./ClubPage.module.css";
import { ConditionsForm } from "./ConditionsForm";
import { type ClubFields, clubQuestion, fieldsFromAddress, fieldsToAddress } from "./club-fields";
import { useAddress, useDelivery, useOtherClub } from "./queries";
import reachCss from "./reach.module.css";

const LoftChart = lazy(() => import("./LoftChart"));

/** Where sliders go: the part of each range that clubs and swings use. */
const SLIDE: Record<string, [number, number]> = {
  club_speed: [20, 65],
  angle_of_attack_deg: [-10, 10],
  dynamic_loft_deg: [5, 60],
  static_loft_deg: [6, 64],
  club_length_m: [0.8, 1.25],
  head_mass_g: [170, 330],
  forgiveness_pct: [60, 150],
  tee_higher: [-0.02, 0.02],
};

/** Beside the answer there is room for all fields; above it, for what is asked most. */
const WIDE = matchMedia("(min-width: 1001px)").matches;

export function ClubPage() {
  const words = useWords();
  return words ? <ClubBench words={words} /> : <Loading />;
}

function ClubBench({ words }: { words: Words }) {
  const [search] = useSearchParams();
  const [club, setClub] = useState(search.get("club") ?? "driver");
  const [player, setPlayer] = useState(search.get("player") ?? undefined);
  const [conditions, setConditions] = useState(() => conditionsFromAddress(search));
  // What was dragged or typed; all else is the player's, or usual of the club.
  const [set, setSet] = useState<ClubFields>(() => fieldsFromAddress(search));
  const delivery = useDelivery(player, club);
  const own = player ? delivery.data : undefined;
  const waits = player !== undefined && !delivery.data && !delivery.isError;
  const address = useMemo(() => {
    const address = new URLSearchParams({ club });
    if (player) address.set("player", player);
    fieldsToAddress(set, address);
    conditionsToAddress(conditions, address);
    return address.toString();
  }, [club, player, set, conditions]);
  useAddress(address);
  const word = words.vocabulary.clubs.find(({ key }) => key === club);
  const question = word && clubQuestion(word, words.vocabulary.usual_scatter, own, set, conditions);
  const asked = useOtherClub(waits ? undefined : question);
  if (!question || !word) return <Loading />;
  const answer = asked.data;
  const begin = (next: { club?: string; player?: string }) => {
    setClub(next.club ?? club);
    setPlayer("player" in next ? next.player : player);
    setSet({});
  };
  const drag = (field: string, key: string, value: number) => (
    <Dragged
      key={`${club} ${player} ${field}`}
      input={inputOf(words, key)}
      slide={SLIDE[key]}
      value={value}
      onChange={(next) => setSet({ ...set, [field]: next })}
      words={words}
    />
  );
  const { now, other, delivery: swing } = question;
  return (
    <div className={reachCss.bench}>
      <aside className={reachCss.benchForm} aria-label="Swing and clubs">
        <BenchHead />
        <ClubChoice club={club} choose={(next) => begin({ club: next })} words={words} />
        <PlayerChoice
          player={player}
          choose={(next) => begin({ player: next })}
          without="a sound swing"
        />
        {delivery.isError && player && <FormTrouble error={delivery.error} />}
        {own && (
          <p className="quiet">
            {own.own
              ? said(own.own.said, words)
              : "Too few balls with this club tell how it is delivered; a sound swing is taken."}
            {!own.length_noted && " Its length is not noted in the bag: the usual is taken."}
            {!own.loft_noted && " Its loft is not noted: the usual is taken."}
          </p>
        )}
        <fieldset className={css.part}>
          <legend>The other club</legend>
          {drag("other_length", "club_length_m", other.club_length_m)}
          {drag("other_loft", "static_loft_deg", other.static_loft_deg)}
          {drag("other_head", "head_mass_g", other.head_mass_g)}
          {drag("other_forgiveness", "forgiveness_pct", other.forgiveness_pct)}
          {drag("softer", "softer_steps", question.softer_steps ?? 0)}
          {word.teed && drag("tee", "tee_higher", question.tee_higher ?? 0)}
        </fieldset>
        <details className={css.part} open={WIDE}>
          <summary>The club now</summary>
          {drag("now_length", "club_length_m", now.club_length_m)}
          {drag("now_loft", "static_loft_deg", now.static_loft_deg)}
          {drag("now_head", "head_mass_g", now.head_mass_g)}
        </details>
        <details className={css.part} open={WIDE}>
          <summary>The swing</summary>
          {drag("speed", "club_speed", swing.club_speed)}
          {drag("attack", "angle_of_attack_deg", swing.angle_of_attack_deg)}
          {drag("loft", "dynamic_loft_deg", swing.dynamic_loft_deg)}
          {drag("toe", "scatter_toe", question.scatter_toe)}
          {drag("high", "scatter_high", question.scatter_high)}
        </details>
        <ConditionsForm conditions={conditions} onChange={setConditions} words={words} />
      </aside>
      <div className={reachCss.benchAnswer}>
        <div role="status">
          <h1
            data-called="Bench, club"
            className={`verdict${asked.isError ? " bad" : ` ${answer?.verdict.kind ?? ""}`}`}
          >
            {asked.isError ? asked.error.message : answer && said(answer.verdict.sentence, words)}
          </h1>
        </div>
        {answer && !asked.isError && (
          <>
            <p className="detail">
              {said(answer.verdict.detail, words)} ·{" "}
              <WorkingLink
                sentence={answer.verdict.sentence}
                working={answer.verdict.working}
                words={words}
              />
            </p>
            {answer.levers.length > 0 && <Levers answer={answer} words={words} />}
            <ul className={css.cautions}>
              {answer.cautions.map((caution) => (
                <li key={said(caution, words)}>{said(caution, words)}</li>
              ))}
              {player && (
                <li>
                  <Link to={`/players/${player}/prepare?purpose=comparison&club=${club}`}>
                    Prepare that comparison
                  </Link>
                </li>
              )}
            </ul>
            {answer.levers.length > 0 && <Both answer={answer} words={words} />}
            {answer.loft_said && (
              <section aria-labelledby="loft-for-it">
                <h2 id="loft-for-it" className="minor">
                  {said(answer.loft_said, words)}
                </h2>
                <Suspense fallback={<div className="chart-space" />}>
                  <LoftChart answer={answer} loft={other.static_loft_deg} words={words} />
                </Suspense>
              </section>
            )}
          </>
        )}
      </div>
    </div>
  );
}

interface Parts {
  answer: Schemas["OtherClub"];
  words: Words;
}

/** What each difference alone is worth, with its band to scale. */
function Levers({ answer, words }: Parts) {
  const rows = [
    ...answer.levers,
    ...(answer.levers.length > 1
      ? [{ lever: "all", said: undefined, carry: answer.carry, source: "" } as const]
      : []),
  ];
  const ends = rows.flatMap(({ carry }) => [carry.low, carry.high, 0]);
  const [least, most] = [Math.min(...ends) - 0.5, Math.max(...ends) + 0.5];
  const at = (value: number) => `${(100 * (value - least)) / (most - least)}%`;
  return (
    <ul className={css.levers} aria-label="What each is worth">
      {rows.map(({ lever, said: what, carry, source }) => (
        <li key={lever} className={lever === "all" ? css.all : undefined}>
          <span>{what ? said(what, words) : "all together"}</span>
          <b>
            {signed(carry.value, "distance", words)} <small>{words.symbol("distance")}</small>
          </b>
          <span className={css.track} aria-hidden="true">
            <i className={css.zero} style={{ left: at(0) }} />
            <i
              className={css.band}
              style={{
                left: at(carry.low),
                width: `${(100 * (carry.high - carry.low)) / (most - least)}%`,
              }}
            />
            <i className={css.middle} style={{ left: at(carry.value) }} />
          </span>
          <small className={css.ends}>
            {signed(carry.low, "distance", words)} to {signed(carry.high, "distance", words)}
          </small>
          {source && <small className={css.source}>{source}</small>}
        </li>
      ))}
    </ul>
  );
}

const FIGURES = [
  ["Carry", "distance", "carry"],
  ["Total", "distance", "total"],
  ["Club speed", "speed", "club_speed"],
  ["Ball speed", "speed", "ball_speed"],
  ["Launch angle", "angle", "launch_angle_deg"],
  ["Spin rate", "spin", "spin_rate_rpm"],
  ["Landing angle", "angle", "landing_angle_deg"],
  ["Carry strays by, from the strike", "distance", "carry_spread"],
  ["To the side, from the strike", "distance", "side_spread"],
] as const;

function Both({ answer, words }: Parts) {
  return (
    <table className="figures">
      <thead>
        <tr>
          <th scope="col">With</th>
          <th scope="col">the club now</th>
          <th scope="col">the other</th>
        </tr>
      </thead>
      <tbody>
        {FIGURES.map(([label, dimension, key]) => (
          <tr key={key}>
            <th scope="row">
              {label} <small>{words.symbol(dimension)}</small>
            </th>
            <td>{words.bare(dimension, answer.now[key])}</td>
            <td>{words.bare(dimension, answer.other[key])}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
