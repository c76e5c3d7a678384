// One shot of the bench: what club, described how, and its numbers.

import { Radio, Select } from "antd";
import type { Words } from "../app/vocabulary";
import { Dragged, inputOf } from "../ui/Dragged";
import { type BenchShot, type By, FIELDS, LIES, type Lie, soundShot } from "./address";
import { ClubChoice } from "./Choices";
import reachCss from "./reach.module.css";
import css from "./ShotForm.module.css";

/** Where sliders go: the part of each range that swings use. */
const SLIDE: Record<string, [number, number]> = {
  ball_speed: [20, 90],
  launch_angle_deg: [0, 45],
  spin_rate_rpm: [0, 12_000],
  launch_direction_deg: [-15, 15],
  spin_axis_deg: [-45, 45],
  club_speed: [20, 65],
  angle_of_attack_deg: [-10, 10],
  dynamic_loft_deg: [5, 60],
  static_loft_deg: [7, 62],
  shaft_lean_deg: [-10, 15],
  club_path_deg: [-15, 15],
  face_angle_deg: [-15, 15],
};

interface Props {
  shot: BenchShot;
  onChange: (shot: BenchShot) => void;
  words: Words;
}

export function ShotForm({ shot, onChange, words }: Props) {
  return (
    <div className={css.shotForm}>
      <Radio.Group
        aria-label="Described by"
        value={shot.by}
        onChange={(e) => onChange(soundShot(e.target.value as By, shot.club, words))}
        options={[
          { value: "launch", label: "Launch" },
          { value: "delivery", label: "Delivery" },
          { value: "held", label: "Loft and lean" },
        ]}
      />
      <ClubChoice
        club={shot.club}
        choose={(club) => onChange(soundShot(shot.by, club, words))}
        words={words}
      />
      {shot.by !== "launch" && (
        <div className={reachCss.choiceRow}>
          <span id="bench-lie">Ball and face</span>
          <Select
            aria-labelledby="bench-lie"
            value={shot.lie ?? "dry"}
            onChange={(lie: Lie) => onChange({ ...shot, lie })}
            options={Object.entries(LIES).map(([value, label]) => ({ value, label }))}
          />
        </div>
      )}
      {FIELDS[shot.by].map((field) => (
        <Dragged
          key={`${shot.by}-${field}`}
          input={inputOf(words, field)}
          slide={SLIDE[field]}
          value={shot.values[field] ?? 0}
          onChange={(value) => onChange({ ...shot, values: { ...shot.values, [field]: value } })}
          words={words}
        />
      ))}
    </div>
  );
}
