// By which value sets are compared, and what makes no difference.

import { Checkbox, Input, Select } from "antd";
import { useState } from "react";
import { ApiError, type Quantity, type Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { FormTrouble } from "../ui/FormTrouble";
import { typed } from "../ui/Measured";
import { fromAddress, toAddress } from "../ui/typed-address";
import trialsCss from "./trials.module.css";

/** As typed, in the coach's units; empty takes the house's. */
export interface Asking {
  quantity: Quantity;
  margin: string;
  fairway: string;
  drift: boolean;
}

export function askingFrom(params: URLSearchParams, usual: Quantity, words: Words): Asking {
  const quantity = (params.get("by") as Quantity | null) ?? usual;
  return {
    quantity,
    margin: fromAddress(params.get("margin"), words.quantity(quantity).dimension, words),
    fairway: fromAddress(params.get("fairway"), "distance", words),
    drift: params.get("drift") !== "no",
  };
}

export function asked(asking: Asking, sets: Schemas["SetAsked"][], words: Words) {
  const { dimension } = words.quantity(asking.quantity);
  const given = (text: string, unit: string) => (text ? { value: typed(text), unit } : null);
  return {
    quantity: asking.quantity,
    sets,
    margin: given(asking.margin, words.suffix(dimension)),
    fairway_width: given(asking.fairway, words.suffix("distance")),
    order_in: asking.drift,
  };
}

interface Props {
  asking: Asking;
  onAsk: (part: Record<string, string>) => void;
  report: Schemas["CompareReport"] | undefined;
  error: Error | null;
  words: Words;
}

const QUANTITIES: Quantity[] = [
  "carry",
  "total",
  "side",
  "club_speed",
  "ball_speed",
  "smash_factor",
  "launch_angle",
  "spin_rate",
  "apex",
  "landing_angle",
  "angle_of_attack",
  "hand_speed",
  "vertical_force_lead",
  "vertical_force_trail",
  "torque",
];

export function CompareAsking({ asking, onAsk, report, error, words }: Props) {
  const { dimension } = words.quantity(asking.quantity);
  // What is typed stands here at once; the address follows.
  const [margin, setMargin] = useState(asking.margin);
  const [fairway, setFairway] = useState(asking.fairway);
  const house = (value: number | undefined, of: typeof dimension) =>
    value === undefined ? "" : words.field(of, value);
  return (
    <div className={`askings ${trialsCss.askings}`}>
      <label>
        <span>Compare by</span>
        <Select<Quantity>
          aria-label="Compare by"
          value={asking.quantity}
          onChange={(by) => {
            setMargin("");
            onAsk({ by, margin: "" });
          }}
          popupMatchSelectWidth={false}
          listHeight={460}
          options={QUANTITIES.map((q) => ({
            value: q,
            label: words.quantity(q).label.toLowerCase(),
          }))}
        />
      </label>
      <label>
        <span>Makes no difference</span>
        <Input
          aria-label="Makes no difference"
          value={margin}
          placeholder={house(report?.margin, dimension)}
          onChange={(e) => {
            setMargin(e.target.value);
            onAsk({ margin: toAddress(e.target.value, dimension, words) });
          }}
          inputMode="decimal"
          prefix="±"
          suffix={words.symbol(dimension)}
        />
      </label>
      <label>
        <span>Fairway width</span>
        <Input
          aria-label="Fairway width"
          value={fairway}
          placeholder={house(report?.fairway_width, "distance")}
          onChange={(e) => {
            setFairway(e.target.value);
            onAsk({ fairway: toAddress(e.target.value, "distance", words) });
          }}
          inputMode="decimal"
          suffix={words.symbol("distance")}
        />
      </label>
      <Checkbox
        checked={asking.drift}
        onChange={(e) => onAsk({ drift: e.target.checked ? "" : "no" })}
      >
        Reckon with order and days
      </Checkbox>
      {error instanceof ApiError && <FormTrouble error={error} />}
    </div>
  );
}
