import { Select } from "antd";
import type { Schemas } from "../app/api";
import trialsCss from "./trials.module.css";

export type Criterion = Schemas["Criterion"];

const CRITERIA: Record<Criterion, string> = {
  strokes: "fewest strokes",
  fairway: "most fairways",
  distance: "furthest",
};

interface Props {
  criterion: Criterion;
  onCriterion: (criterion: Criterion) => void;
}

/** What the coach looks for in an effort or a club. */
export function CriterionChoice({ criterion, onCriterion }: Props) {
  return (
    <div className={`askings ${trialsCss.askings}`}>
      <label>
        <span>Best means</span>
        <Select<Criterion>
          aria-label="Best means"
          value={criterion}
          onChange={onCriterion}
          popupMatchSelectWidth={false}
          options={Object.entries(CRITERIA).map(([value, label]) => ({
            value: value as Criterion,
            label,
          }))}
        />
      </label>
    </div>
  );
}
