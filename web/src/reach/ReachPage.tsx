// Bench · Reach: what a distance takes, or what a speed gives.

import { Radio } from "antd";
import { lazy, Suspense, useMemo, useState } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../app/api";
import { useWords, type Words } from "../app/vocabulary";
import { BenchHead } from "../ui/BenchHead";
import { Dragged, inputOf } from "../ui/Dragged";
import { Loading } from "../ui/Notice";
import { said } from "../ui/Said";
import { TableRoom } from "../ui/TableRoom";
import { WorkingLink } from "../ui/Working";
import { conditionsFromAddress, conditionsToAddress } from "./address";
import { ClubChoice, PlayerChoice } from "./Choices";
import { ConditionsForm } from "./ConditionsForm";
import { useAddress, useReach } from "./queries";
import css from "./ReachPage.module.css";
import reachCss from "./reach.module.css";

const ReachChart = lazy(() => import("./ReachChart"));
const MapChart = lazy(() => import("../ui/MapChart"));

type From = "target" | "club_speed";

export function ReachPage() {
  const words = useWords();
  return words ? <ReachBench words={words} /> : <Loading />;
}

function ReachBench({ words }: { words: Words }) {
  const [search] = useSearchParams();
  const number = (name: string, fallback: number) => Number(search.get(name) ?? fallback);
  const [from, setFrom] = useState<From>(
    search.get("from") === "club_speed" ? "club_speed" : "target",
  );
  const [target, setTarget] = useState(() => number("target", 201.168) || 201.168);
  const [speed, setSpeed] = useState(() => number("speed", 40.2336) || 40.2336);
  const [aim, setAim] = useState<Schemas["Aim"]>(search.get("aim") === "total" ? "total" : "carry");
  const [club, setClub] = useState(search.get("club") ?? "driver");
  const [player, setPlayer] = useState(search.get("player") ?? undefined);
  const [efficiency, setEfficiency] = useState(() => number("efficiency", 80) || 80);
  const [conditions, setConditions] = useState(() => conditionsFromAddress(search));
  const address = useMemo(() => {
    const address = new URLSearchParams({
      from,
      target: String(Number(target.toFixed(3))),
      speed: String(Number(speed.toFixed(3))),
      aim,
      club,
      efficiency: String(Number(efficiency.toFixed(3))),
    });
    if (player) address.set("player", player);
    conditionsToAddress(conditions, address);
    return address.toString();
  }, [from, target, speed, aim, club, efficiency, player, conditions]);
  useAddress(address);
  const asked = useReach({
    target: from === "target" ? target : undefined,
    club_speed: from === "club_speed" ? speed : undefined,
    club,
    aim,
    conditions,
    efficiency_pct: efficiency,
    player,
    units: words.units,
  });
  const answer = asked.data;
  return (
    <div className={reachCss.bench}>
      <aside className={reachCss.benchForm} aria-label="Question">
        <BenchHead />
        <Radio.Group
          aria-label="Start from"
          value={from}
          onChange={(e) => setFrom(e.target.value)}
          options={[
            { value: "target", label: "A distance" },
            { value: "club_speed", label: "A club speed" },
          ]}
        />
        {from === "target" ? (
          <Dragged
            input={inputOf(words, "reach_target")}
            slide={[90, 320]}
            value={target}
            onChange={setTarget}
            words={words}
          />
        ) : (
          <Dragged
            input={inputOf(words, "reach_club_speed")}
            value={speed}
            onChange={setSpeed}
            words={words}
          />
        )}
        <Dragged
          input={inputOf(words, "efficiency_pct")}
          value={efficiency}
          onChange={setEfficiency}
          words={words}
        />
        <Radio.Group
          aria-label="Distance of"
          value={aim}
          onChange={(e) => setAim(e.target.value)}
          options={[
            { value: "carry", label: "Carry" },
            { value: "total", label: "Total" },
          ]}
        />
        <ClubChoice club={club} choose={setClub} words={words} />
        <PlayerChoice player={player} choose={setPlayer} without="none" />
        {player && answer && !asked.isPlaceholderData && answer.sessions.length === 0 && (
          <p className="quiet">No session with this club has club speed, carry and launch.</p>
        )}
        {player && answer?.own && !asked.isPlaceholderData && (
          <p className="quiet">
            Attack {words.bare("angle", answer.own.angle_of_attack_deg[0] ?? 0)}° to{" "}
            {words.bare("angle", answer.own.angle_of_attack_deg[1] ?? 0)}°, as this player delivers
            it.
          </p>
        )}
        <ConditionsForm conditions={conditions} onChange={setConditions} words={words} />
      </aside>
      <div className={reachCss.benchAnswer}>
        <div role="status">
          <h1 data-called="Bench, reach" className={`verdict${asked.isError ? " bad" : ""}`}>
            {asked.isError ? asked.error.message : answer && said(answer.reach.sentence, words)}
          </h1>
        </div>
        {answer && !asked.isError && (
          <>
            <p className="detail">
              {answer.reach.detail && <>{said(answer.reach.detail, words)} · </>}
              <WorkingLink
                sentence={answer.reach.sentence}
                working={answer.reach.working}
                words={words}
              />
            </p>
            <Levels levels={answer.reach.levels} from={from} words={words} />
            <div className={css.reachPictures}>
              {from === "target" && (
                <Suspense fallback={<div className="chart-space" />}>
                  <ReachChart answer={answer} words={words} />
                </Suspense>
              )}
              <Suspense fallback={<div className="chart-space" />}>
                <MapChart
                  title={`${aim === "carry" ? "Carry" : "Total"} at ${words.show("speed", answer.ball_speed)} ball speed. Amber: as good as the best; dashed: what a swing delivers`}
                  map={answer.map}
                  deliverable={answer.deliverable}
                  best={answer.reach.levels[0]?.window.best.launch ?? BLANK}
                  shots={[]}
                  words={words}
                  height={320}
                />
              </Suspense>
            </div>
            {/* From one speed there is one window. */}
            <Windows
              levels={from === "target" ? answer.reach.levels : answer.reach.levels.slice(0, 1)}
              words={words}
            />
            <Attack attack={answer.reach.attack} words={words} />
          </>
        )}
      </div>
    </div>
  );
}

const BLANK = { launch_angle_deg: 0, spin_rate_rpm: 0 };

interface Parts {
  levels: Schemas["EfficiencyLevel"][];
  words: Words;
}

function Levels({ levels, from, words }: Parts & { from: From }) {
  return (
    <dl className={css.levels}>
      {levels.map((level) => (
        <div key={level.label}>
          <dt>
            {level.label} <small>{Math.round(level.efficiency * 100)} %</small>
          </dt>
          <dd>
            <b>
              {from === "target"
                ? words.bare("speed", level.club_speed)
                : words.bare("distance", level.distance)}
            </b>{" "}
            {words.symbol(from === "target" ? "speed" : "distance")}
          </dd>
        </div>
      ))}
    </dl>
  );
}

/** What has to be delivered at each level's speed to be as good as the best there. */
function Windows({ levels, words }: Parts) {
  const range = (dimension: "angle" | "spin", r: Schemas["Range"]) =>
    `${words.bare(dimension, r.from)} to ${words.show(dimension, r.to)}`;
  return (
    <TableRoom of="Reach in numbers">
      <table className="figures">
        <thead>
          <tr>
            <th scope="col">At the speed of</th>
            <th scope="col">launch angle</th>
            <th scope="col">spin rate</th>
            <th scope="col">landing angle</th>
            <th scope="col">angle of attack</th>
            <th scope="col">dynamic loft</th>
          </tr>
        </thead>
        <tbody>
          {levels.map(({ label, window }) => (
            <tr key={label}>
              <th scope="row">{label.toLowerCase()}</th>
              <td>{range("angle", window.launch_angle_deg)}</td>
              <td>{range("spin", window.spin_rate_rpm)}</td>
              <td>{range("angle", window.landing_angle_deg)}</td>
              <td>{range("angle", window.angle_of_attack_deg)}</td>
              <td>{range("angle", window.dynamic_loft_deg)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </TableRoom>
  );
}

function Attack({ attack, words }: { attack: Schemas["AttackWorth"][]; words: Words }) {
  return (
    <section aria-labelledby="attack">
      <h2 id="attack" className="minor">
        What the angle of attack is worth, everything else right
      </h2>
      <TableRoom of="Reach in numbers">
        <table className="figures attack">
          <tbody>
            <tr>
              <th scope="row">angle of attack</th>
              {attack.map((a) => (
                <td key={a.angle_of_attack_deg}>{words.show("angle", a.angle_of_attack_deg)}</td>
              ))}
            </tr>
            <tr>
              <th scope="row">furthest, {words.symbol("distance")}</th>
              {attack.map((a) => (
                <td key={a.angle_of_attack_deg}>{words.bare("distance", a.distance)}</td>
              ))}
            </tr>
          </tbody>
        </table>
      </TableRoom>
    </section>
  );
}
