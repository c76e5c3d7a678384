// Bench · Flight: one to four shots side by side in the same air, on the same ground.

import { Button } from "antd";
import { lazy, Suspense, useMemo, useState } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../app/api";
import { useWords, type Words } from "../app/vocabulary";
import { BenchHead } from "../ui/BenchHead";
import { Loading } from "../ui/Notice";
import { said } from "../ui/Said";
import { TableRoom } from "../ui/TableRoom";
import {
  type BenchShot,
  conditionsFromAddress,
  conditionsToAddress,
  shotFromText,
  shotToText,
  soundShot,
} from "./address";
import { ConditionsForm } from "./ConditionsForm";
import css from "./FlightPage.module.css";
import { LETTERS } from "./marks";
import { useAddress, useFlight } from "./queries";
import reachCss from "./reach.module.css";
import { SaveWindow } from "./SaveWindow";
import { ShotForm } from "./ShotForm";

const PathChart = lazy(() => import("./PathChart"));

export function FlightPage() {
  const words = useWords();
  return words ? <Flight words={words} /> : <Loading />;
}

function Flight({ words }: { words: Words }) {
  const [search] = useSearchParams();
  const [conditions, setConditions] = useState(() => conditionsFromAddress(search));
  const [shots, setShots] = useState<BenchShot[]>(() => {
    const given = search.getAll("shot").map((text) => shotFromText(text, words));
    const read = given.filter((shot) => shot !== undefined).slice(0, LETTERS.length);
    return read.length ? read : [soundShot("launch", "driver", words)];
  });
  const [chosen, setChosen] = useState(0);
  const address = useMemo(() => {
    const address = new URLSearchParams(shots.map((shot) => ["shot", shotToText(shot)]));
    conditionsToAddress(conditions, address);
    return address.toString();
  }, [shots, conditions]);
  useAddress(address);

  const flight = useFlight({ conditions, shots: shots.map(asked) });
  const answers = flight.data?.shots ?? [];
  const flown = useMemo(() => (flight.data?.shots ?? []).map((s) => s.flown), [flight.data]);
  const index = Math.min(chosen, shots.length - 1);
  const shot = shots[index];
  const change = (next: BenchShot) => setShots(shots.map((s, i) => (i === index ? next : s)));
  return (
    <div className={reachCss.bench}>
      <aside className={reachCss.benchForm} aria-label="Shots">
        <BenchHead />
        <ConditionsForm conditions={conditions} onChange={setConditions} words={words} />
        <div className={`${css.letters} letter-row`}>
          <div className={css.letters} role="tablist" aria-label="Shot">
            {shots.map((s, i) => (
              <button
                key={i}
                type="button"
                role="tab"
                aria-selected={i === index}
                className={`letter letter-${i}`}
                onClick={() => setChosen(i)}
              >
                <b>{LETTERS[i]}</b>
                <small>{words.club(s.club)}</small>
              </button>
            ))}
          </div>
          {shots.length < LETTERS.length && shot && (
            <button
              type="button"
              className="letter letter-add"
              onClick={() => {
                setShots([...shots, { ...shot, values: { ...shot.values } }]);
                setChosen(shots.length);
              }}
            >
              <b>+</b>
              <small>beside</small>
            </button>
          )}
        </div>
        {shot && <ShotForm key={index} shot={shot} onChange={change} words={words} />}
        <div className={css.benchActs}>
          {flown[index] && shot && (
            <SaveWindow
              letter={LETTERS[index] ?? ""}
              club={shot.club}
              launch={flown[index].launch}
              words={words}
            />
          )}
          {shots.length > 1 && (
            <Button onClick={() => setShots(shots.filter((_, i) => i !== index))}>
              Take {LETTERS[index]} away
            </Button>
          )}
        </div>
      </aside>
      <div className={reachCss.benchAnswer}>
        <h1 data-called="Bench, flight" className="verdict">
          {flight.isError
            ? flight.error.message
            : flight.data && said(flight.data.side_by_side.sentence, words)}
        </h1>
        {answers.map(
          (answer, i) =>
            answer.refused && (
              <p className="bad" role="alert" key={LETTERS[i]}>
                {LETTERS[i]}: {answer.refused.field.replaceAll("_", " ")} {answer.refused.problem};{" "}
                {answer.refused.remedy}.
              </p>
            ),
        )}
        <Suspense fallback={<div className="chart-space" />}>
          <PathChart shots={flown} view="side" words={words} />
          <PathChart shots={flown} view="above" words={words} />
        </Suspense>
        {flight.data && (
          <FigureTable rows={flight.data.side_by_side.rows} shots={shots.length} words={words} />
        )}
        {flown[index] && (
          <Explained
            letter={LETTERS[index] ?? ""}
            rows={flown[index].explanations}
            byLaunch={shot?.by === "launch"}
            words={words}
          />
        )}
      </div>
    </div>
  );
}

function asked(shot: BenchShot): Schemas["DescribedShot"] {
  const of = (key: string) => shot.values[key] ?? 0;
  if (shot.by === "launch")
    return {
      by: "launch",
      club: shot.club,
      launch: {
        ball_speed: of("ball_speed"),
        launch_angle_deg: of("launch_angle_deg"),
        launch_direction_deg: of("launch_direction_deg"),
        spin_rate_rpm: of("spin_rate_rpm"),
        spin_axis_deg: of("spin_axis_deg"),
      },
    };
  return {
    by: "delivery",
    club: shot.club,
    delivery: {
      club_speed: of("club_speed"),
      angle_of_attack_deg: of("angle_of_attack_deg"),
      dynamic_loft_deg: of("dynamic_loft_deg"),
      club_path_deg: of("club_path_deg"),
      face_angle_deg: of("face_angle_deg"),
      impact_toe: of("impact_toe"),
      impact_high: of("impact_high"),
      lie: shot.lie ?? "dry",
    },
    held:
      shot.by === "held"
        ? { static_loft_deg: of("static_loft_deg"), shaft_lean_deg: of("shaft_lean_deg") }
        : undefined,
  };
}

function FigureTable(props: { rows: Schemas["FigureRow"][]; shots: number; words: Words }) {
  const { rows, shots, words } = props;
  const columns = LETTERS.slice(0, shots);
  /** What a value has beyond the first shot's, as both are shown. */
  const beyond = (row: Schemas["FigureRow"], value: number) => {
    const first = row.values[0];
    if (first === null || first === undefined) return "";
    const apart = words.apart(row.dimension, value, first);
    if (/^[0.]+$/.test(apart)) return "=";
    return `${value > first ? "+" : "−"}${apart}`;
  };
  return (
    <TableRoom of="Flights in numbers">
      <table className={`figures ${css.benchFigures}`}>
        <thead>
          <tr>
            <th scope="col">
              <span className="sr-only">Figure</span>
            </th>
            {columns.map((letter, i) => (
              <th scope="col" key={letter} className={`letter-${i}`}>
                {letter}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.label}>
              <th scope="row">{row.label}</th>
              {columns.map((letter, i) => {
                const value = row.values[i];
                return (
                  <td key={letter}>
                    {value === null || value === undefined ? "–" : words.show(row.dimension, value)}
                    {i > 0 && value !== null && value !== undefined && (
                      <small> {beyond(row, value)}</small>
                    )}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </TableRoom>
  );
}

const STRUCK = ["low", "centred", "high"];

function Explained(props: {
  letter: string;
  rows: Schemas["Explanation"][];
  byLaunch: boolean;
  words: Words;
}) {
  const { letter, rows, byLaunch, words } = props;
  if (!byLaunch) return null;
  const struck = (high: number) => STRUCK[Math.sign(Math.round(high * 1000)) + 1];
  return (
    <section aria-labelledby="explained">
      <h2 id="explained" className="minor">
        What delivery gives launch {letter}
      </h2>
      {rows.length === 0 ? (
        <p className="quiet">
          No swing with this club gives it: launch and spin do not belong together.
        </p>
      ) : (
        <TableRoom of="Flights in numbers">
          {" "}
          <table className="figures">
            <thead>
              <tr>
                <th scope="col">Struck</th>
                <th scope="col">club speed</th>
                <th scope="col">smash factor</th>
                <th scope="col">angle of attack</th>
                <th scope="col">dynamic loft</th>
                <th scope="col">path</th>
                <th scope="col">face</th>
              </tr>
            </thead>
            <tbody>
              {rows.map(({ delivery, smash_factor }) => (
                <tr key={delivery.impact_high}>
                  <th scope="row">{struck(delivery.impact_high ?? 0)}</th>
                  <td>{words.show("speed", delivery.club_speed)}</td>
                  <td>{words.bare("ratio", smash_factor)}</td>
                  <td>{words.show("angle", delivery.angle_of_attack_deg)}</td>
                  <td>{words.show("angle", delivery.dynamic_loft_deg)}</td>
                  <td>{words.show("angle", delivery.club_path_deg ?? 0)}</td>
                  <td>{words.show("angle", delivery.face_angle_deg ?? 0)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </TableRoom>
      )}
    </section>
  );
}
