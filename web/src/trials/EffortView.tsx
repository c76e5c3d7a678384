// What each felt effort gave and cost, and which one to play.

import { lazy, Suspense } from "react";
import type { Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { useHeld } from "../ui/held";
import { Trouble } from "../ui/Notice";
import { StrikeCosts } from "../ui/StrikeCosts";
import { TableRoom } from "../ui/TableRoom";
import { percent } from "./CompareView";
import { CriterionChoice } from "./Criterion";
import css from "./EffortView.module.css";
import { HoleForm, type HoleTyped, holeAsked } from "./HoleForm";
import { useEffort } from "./queries";
import trialsCss from "./trials.module.css";
import { VerdictHead } from "./VerdictHead";

const EffortChart = lazy(() => import("./EffortChart"));

interface Props {
  session: string;
  club: string;
  criterion: Schemas["Criterion"];
  onCriterion: (criterion: Schemas["Criterion"]) => void;
  hole: HoleTyped;
  onHole: (hole: HoleTyped) => void;
  words: Words;
  /** What stands beneath the figures, given the verdict. */
  beneath: (verdict: Schemas["Verdict"]) => React.ReactNode;
}

export function EffortView(props: Props) {
  const { session, club, criterion, onCriterion, hole, onHole, words, beneath } = props;
  const found = useEffort(session, club, { criterion, hole: holeAsked(hole, words) });
  const report = useHeld(found.data);
  return (
    <div className={`read-columns ${trialsCss.decideColumns}`}>
      <section aria-label="Verdict">
        {report && <VerdictHead verdict={report.verdict} words={words} />}
        {!report && found.isError && <Trouble error={found.error} />}
        {report && report.levels.length > 1 && (
          <Suspense fallback={<div className="chart-space" />}>
            <EffortChart report={report} words={words} />
          </Suspense>
        )}
      </section>
      <section aria-label="Efforts">
        {report && report.levels.length > 0 && <Levels report={report} words={words} />}
        <CriterionChoice criterion={criterion} onCriterion={onCriterion} />
        <HoleForm
          key={words.units}
          typed={hole}
          onTyped={onHole}
          words={words}
          error={found.error}
        />
        {report && <StrikeCosts face={report.face} words={words} />}
        {report && beneath(report.verdict)}
      </section>
    </div>
  );
}

function Levels({ report, words }: { report: Schemas["EffortReport"]; words: Words }) {
  const safe = report.safe === null || report.safe === undefined ? -1 : report.safe;
  const play = report.play === null || report.play === undefined ? -1 : report.play;
  return (
    <>
      <TableRoom of="Table">
        <table className={`figures ${css.efforts}`}>
          <thead>
            <tr>
              <th scope="col">felt</th>
              <th scope="col">real</th>
              <th scope="col">carry</th>
              <th scope="col">left–right</th>
              <th scope="col">fairway</th>
              <th scope="col">strokes</th>
              <th scope="col">best</th>
            </tr>
          </thead>
          <tbody>
            {report.levels.map((level, i) => (
              <tr key={level.label} className={i === play ? "chosen" : undefined}>
                <th scope="row">
                  {level.label}
                  <small> n {level.n}</small>
                </th>
                <td>{Math.round(level.real.value * 100)} %</td>
                <td>{level.carry ? words.bare("distance", level.carry.value) : "–"}</td>
                <td>
                  {level.smoothed_spread?.[0]
                    ? `±${words.bare("distance", level.smoothed_spread[0])}`
                    : "–"}
                </td>
                <td>{level.fairway ? percent(level.fairway) : "–"}</td>
                <td>{level.strokes ? level.strokes.value.toFixed(2) : "–"}</td>
                <td>
                  {level.best === null || level.best === undefined
                    ? "–"
                    : `${Math.round(level.best * 100)} %`}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </TableRoom>
      {report.levels[safe] && (
        <p className={`quiet ${trialsCss.beside}`}>
          Safe tee ball: <b>{report.levels[safe]?.label}</b>, which keeps the fairway most often
          with a chance of {Math.round(100 * (report.safe_chance ?? 0))} %. Smooth or all-out: these
          swings decide, by the criterion chosen above.
        </p>
      )}
    </>
  );
}
