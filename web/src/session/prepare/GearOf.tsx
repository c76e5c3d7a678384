// What a block is hit with, where that differs from the rest of the session.

import { Input, InputNumber, Select } from "antd";
import { useState } from "react";
import type { Schemas } from "../../app/api";
import css from "./GearOf.module.css";
import { BALLS } from "./SettingForm";

type Gear = Schemas["Gear"];

const AS_SET: Gear = { head: "", shaft: "", ball: null, tee_m: null, length_m: null };

interface Props {
  index: number;
  gear: Gear | undefined;
  change: (gear: Gear) => void;
}

export function GearOf({ index, gear = AS_SET, change }: Props) {
  const [open, setOpen] = useState(false);
  const given = [
    gear.head,
    gear.shaft,
    BALLS.find((ball) => ball.value === gear.ball)?.label.toLowerCase(),
    gear.length_m != null && `${(gear.length_m * 100).toFixed(1)} cm long`,
    gear.tee_m != null && `tee ${Math.round(gear.tee_m * 1000)} mm`,
  ].filter(Boolean);
  const of = `of block ${index + 1}`;
  if (!open)
    return (
      <button type="button" className={`link ${css.told}`} onClick={() => setOpen(true)}>
        {given.length > 0 ? given.join(", ") : "head, shaft, ball, tee"}
        <span className="sr-only"> {of}</span>
      </button>
    );
  return (
    <div className={css.gear}>
      <Input
        aria-label={`Head ${of}`}
        placeholder="head"
        value={gear.head ?? ""}
        onChange={(e) => change({ ...gear, head: e.target.value })}
      />
      <Input
        aria-label={`Shaft ${of}`}
        placeholder="shaft"
        value={gear.shaft ?? ""}
        onChange={(e) => change({ ...gear, shaft: e.target.value })}
      />
      <Select
        aria-label={`Ball ${of}`}
        popupMatchSelectWidth={false}
        value={gear.ball ?? ""}
        onChange={(ball) => change({ ...gear, ball: (ball || null) as Gear["ball"] })}
        options={[{ value: "", label: "ball as set" }, ...BALLS]}
      />
      <InputNumber
        aria-label={`Tee height ${of}, mm`}
        placeholder="tee, mm"
        controls={false}
        min={0}
        max={120}
        value={gear.tee_m == null ? null : Math.round(gear.tee_m * 1000)}
        onChange={(mm) => change({ ...gear, tee_m: mm == null ? null : mm / 1000 })}
      />
      <InputNumber
        aria-label={`Length held at ${of}, cm`}
        placeholder="length, cm"
        controls={false}
        min={40}
        max={140}
        value={gear.length_m == null ? null : Math.round(gear.length_m * 1000) / 10}
        onChange={(cm) => change({ ...gear, length_m: cm == null ? null : cm / 100 })}
      />
      <button type="button" className="link" onClick={() => setOpen(false)}>
        Done
      </button>
    </div>
  );
}
