// Air, wind and ground, once for everything on the bench.

import { Select } from "antd";
import { useState } from "react";
import type { Words } from "../app/vocabulary";
import { Dragged, inputOf } from "../ui/Dragged";
import type { Conditions } from "./address";
import css from "./ConditionsForm.module.css";
import reachCss from "./reach.module.css";

const WINDS: [number, string][] = [
  [0, "against"],
  [45, "against, from the right"],
  [90, "from the right"],
  [135, "behind, from the right"],
  [180, "from behind"],
  [225, "behind, from the left"],
  [270, "from the left"],
  [315, "against, from the left"],
];

interface Props {
  conditions: Conditions;
  onChange: (conditions: Conditions) => void;
  words: Words;
  /** Neither ball nor ground: only what is breathed. */
  airOnly?: boolean;
}

export function ConditionsForm({ conditions, onChange, words, airOnly }: Props) {
  const [open, setOpen] = useState(false);
  const { wind } = conditions;
  const air = (key: "altitude_m" | "temperature_c" | "humidity_pct") => (
    <Dragged
      input={inputOf(words, key)}
      value={conditions[key]}
      onChange={(value) => onChange({ ...conditions, [key]: value })}
      words={words}
    />
  );
  const from = wind?.from_deg ?? 0;
  const known = WINDS.some(([degrees]) => degrees === from);
  return (
    <section className={css.benchConditions} aria-label="Conditions">
      <div className={css.benchConditionsHead}>
        <p>{inWords(conditions, words, airOnly)}</p>
        <button type="button" className="link" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? "Close" : "Change conditions"}
        </button>
      </div>
      {open && (
        <>
          {air("altitude_m")}
          {air("temperature_c")}
          {!airOnly && <BallParts {...{ conditions, onChange, words }} />}
          {!airOnly && air("humidity_pct")}
          <Dragged
            input={inputOf(words, "wind_mps")}
            value={wind?.speed_mps ?? 0}
            slide={[0, 15]}
            onChange={(speed_mps) =>
              onChange({
                ...conditions,
                wind: speed_mps > 0 ? { speed_mps, from_deg: from } : undefined,
              })
            }
            words={words}
          />
          <div className={reachCss.choiceRow}>
            <span id="wind-from">Wind from</span>
            <Select
              aria-labelledby="wind-from"
              value={from}
              disabled={!wind}
              onChange={(from_deg: number) =>
                wind && onChange({ ...conditions, wind: { ...wind, from_deg } })
              }
              options={[...WINDS, ...(known ? [] : [[from, `${from}°`] as [number, string]])].map(
                ([value, label]) => ({ value, label }),
              )}
            />
          </div>
          {!airOnly && <GroundParts {...{ conditions, onChange, words }} />}
        </>
      )}
    </section>
  );
}

/** How warm the ball is, and how it flies. */
function BallParts({ conditions, onChange, words }: Omit<Props, "airOnly">) {
  const ball = conditions.ball_flight;
  return (
    <>
      <Dragged
        input={inputOf(words, "ball_temperature_c")}
        value={conditions.ball_temperature_c ?? conditions.temperature_c}
        onChange={(ball_temperature_c) => onChange({ ...conditions, ball_temperature_c })}
        words={words}
      />
      <p className="quiet">
        A warm ball leaves faster, about 1 % for 12 °C. A ball speed that was measured has it in
        already.
      </p>
      <div className={reachCss.choiceRow}>
        <span id="ball-flight">Ball</span>
        <Select
          aria-labelledby="ball-flight"
          value={ball ? "reduced" : "full"}
          onChange={(kind) =>
            onChange({
              ...conditions,
              ball_flight: kind === "reduced" ? words.vocabulary.reduced_flight : undefined,
            })
          }
          options={[
            { value: "full", label: "flies in full" },
            { value: "reduced", label: "reduced flight" },
          ]}
        />
      </div>
      {ball &&
        (["drag", "lift"] as const).map((part) => (
          <Dragged
            key={part}
            input={inputOf(words, `ball_${part}`)}
            value={ball[part]}
            slide={[0.5, 2]}
            onChange={(value) =>
              onChange({ ...conditions, ball_flight: { ...ball, [part]: value } })
            }
            words={words}
          />
        ))}
      {ball && (
        <p className="quiet">
          Nobody prints these: hit both balls, and set drag and lift until carry and height are as
          you saw them.
        </p>
      )}
    </>
  );
}

/** Where the ball comes down. */
function GroundParts({ conditions, onChange, words }: Omit<Props, "airOnly">) {
  const ground = conditions.ground ?? { surface: "fairway" as const, firmness: 0.5 };
  return (
    <>
      <div className={reachCss.choiceRow}>
        <span id="surface">Ground</span>
        <Select
          aria-labelledby="surface"
          value={ground.surface}
          onChange={(surface) => onChange({ ...conditions, ground: { ...ground, surface } })}
          options={[
            { value: "fairway", label: "fairway" },
            { value: "green", label: "green" },
          ]}
        />
      </div>
      <Dragged
        input={inputOf(words, "firmness")}
        value={ground.firmness}
        onChange={(firmness) => onChange({ ...conditions, ground: { ...ground, firmness } })}
        words={words}
      />
    </>
  );
}

export function inWords(conditions: Conditions, words: Words, airOnly = false): string {
  const { wind } = conditions;
  const ground = conditions.ground ?? { surface: "fairway", firmness: 0.5 };
  const firm = ["soft", "average", "hard"][Math.round(ground.firmness * 2)] ?? "average";
  const from = WINDS.find(([degrees]) => degrees === wind?.from_deg)?.[1] ?? `${wind?.from_deg}°`;
  return [
    words.show("height", conditions.altitude_m),
    `${Math.round(conditions.temperature_c)} °C`,
    ...(conditions.ball_temperature_c === undefined || conditions.ball_temperature_c === null
      ? []
      : [`ball ${Math.round(conditions.ball_temperature_c)} °C`]),
    ...(conditions.ball_flight ? ["reduced-flight ball"] : []),
    wind ? `wind ${words.show("speed", wind.speed_mps)} ${from}` : "calm",
    ...(airOnly ? [] : [`${firm} ${ground.surface}`]),
  ].join(" · ");
}
