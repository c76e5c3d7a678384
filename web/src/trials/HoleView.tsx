// The hole chooser: each effort or club of the player on one hole.

import type { Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { useHeld } from "../ui/held";
import { TableRoom } from "../ui/TableRoom";
import { percent } from "./CompareView";
import { CriterionChoice } from "./Criterion";
import { HoleForm, type HoleTyped, holeAsked } from "./HoleForm";
import css from "./HoleView.module.css";
import { type SetAsked, useHole } from "./queries";
import trialsCss from "./trials.module.css";
import { VerdictHead } from "./VerdictHead";

interface Props {
  player: string;
  session?: string;
  choices: SetAsked[];
  criterion: Schemas["Criterion"];
  onCriterion: (criterion: Schemas["Criterion"]) => void;
  hole: HoleTyped;
  onHole: (hole: HoleTyped) => void;
  words: Words;
  beneath?: (verdict: Schemas["Verdict"]) => React.ReactNode;
}

export function HoleView(props: Props) {
  const { player, session, choices, criterion, onCriterion, hole, onHole, words } = props;
  const found = useHole(player, { choices, criterion, hole: holeAsked(hole, words) }, session);
  const report = useHeld(found.data);
  return (
    <div className={`read-columns ${trialsCss.decideColumns}`}>
      <section aria-label="Verdict">
        {report && <VerdictHead verdict={report.verdict} words={words} />}
        {report && <HoleBars report={report} words={words} />}
      </section>
      <section aria-label="The hole">
        <CriterionChoice criterion={criterion} onCriterion={onCriterion} />
        <HoleForm
          key={words.units}
          typed={hole}
          onTyped={onHole}
          words={words}
          error={found.error}
        />
        {report && props.beneath?.(report.verdict)}
      </section>
    </div>
  );
}

/** Each choice with its strokes and their interval on one scale. */
function HoleBars({ report, words }: { report: Schemas["HoleReport"]; words: Words }) {
  const strokes = report.choices.flatMap((c) => (c.strokes ? [c.strokes] : []));
  const low = Math.min(...strokes.map((s) => s.low));
  const high = Math.max(...strokes.map((s) => s.high));
  const at = (value: number) => `${((value - low) / (high - low || 1)) * 92 + 4}%`;
  return (
    <TableRoom of="Table">
      <table className={`figures ${css.holeBars}`}>
        <thead>
          <tr>
            <th scope="col">
              <span className="sr-only">Choice</span>
            </th>
            <th scope="col">strokes</th>
            <th scope="col">fewer to the left, {Math.round(report.interval_level * 100)} %</th>
            <th scope="col">fairway</th>
            <th scope="col">carry</th>
            <th scope="col">best</th>
          </tr>
        </thead>
        <tbody>
          {report.choices.map((choice, i) => (
            <tr key={choice.label} className={i === report.best ? "chosen" : undefined}>
              <th scope="row">
                {choice.label}
                <small> n {choice.n}</small>
              </th>
              <td className={css.strokes}>
                {choice.strokes ? choice.strokes.value.toFixed(2) : "–"}
              </td>
              <td className={css.bar}>
                {choice.strokes && (
                  <span
                    className={css.strokeRange}
                    role="img"
                    aria-label={`${choice.strokes.low.toFixed(2)} to ${choice.strokes.high.toFixed(2)}`}
                  >
                    <i
                      style={{
                        left: at(choice.strokes.low),
                        right: `calc(100% - ${at(choice.strokes.high)})`,
                      }}
                    />
                    <b style={{ left: at(choice.strokes.value) }} />
                  </span>
                )}
              </td>
              <td>{choice.fairway ? percent(choice.fairway) : "–"}</td>
              <td>{choice.carry ? words.bare("distance", choice.carry) : "–"}</td>
              <td>
                {choice.best === null || choice.best === undefined
                  ? "–"
                  : `${Math.round(choice.best * 100)} %`}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </TableRoom>
  );
}
