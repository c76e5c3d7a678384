// A player's facts: put in once, and put right later.

import { Button, Checkbox, Input, Select } from "antd";
import { type FormEvent, useState } from "react";
import type { Schemas } from "../../app/api";
import { FormTrouble } from "../../ui/FormTrouble";
import { Measured, typed } from "../../ui/Measured";
import css from "./PlayerPage.module.css";

export interface Facts {
  name: string;
  born: number | null;
  aim: string;
  left_handed: boolean;
  height: Schemas["Given"] | null;
  mass: Schemas["Given"] | null;
  level: Schemas["PlayingLevel"] | null;
}

export const LEVELS: Record<Schemas["PlayingLevel"], string> = {
  beginner: "Beginner",
  club: "Club player",
  competition: "Competition player",
  elite: "Elite player",
};

const HEIGHTS = { cm: "cm", in: "in" };
const MASSES = { kg: "kg", lb: "lb" };

/** A field with its unit, as it is typed. */
function useGiven(given: Schemas["Given"] | null, usual: string) {
  const [text, setText] = useState(given?.value == null ? "" : String(given.value));
  const [unit, setUnit] = useState(given?.unit ?? usual);
  const value = text.trim() === "" ? null : { value: typed(text), unit };
  return { value, field: { value: text, onValue: setText, unit, onUnit: setUnit } };
}

interface Props {
  facts: Facts;
  act: string;
  error: Error | null;
  sending: boolean;
  send: (facts: Facts) => void;
}

export function PlayerForm({ facts, act, error, sending, send }: Props) {
  const [name, setName] = useState(facts.name);
  const [born, setBorn] = useState(facts.born === null ? "" : String(facts.born));
  const [aim, setAim] = useState(facts.aim);
  const height = useGiven(facts.height, "cm");
  const mass = useGiven(facts.mass, "kg");
  const [level, setLevel] = useState(facts.level);
  const [leftHanded, setLeftHanded] = useState(facts.left_handed);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    send({
      name,
      born: born.trim() === "" ? null : Number(born),
      aim,
      left_handed: leftHanded,
      height: height.value,
      mass: mass.value,
      level,
    });
  };
  return (
    <form onSubmit={submit} className="form">
      <label>
        Name
        <Input value={name} onChange={(e) => setName(e.target.value)} autoComplete="off" />
      </label>
      <label>
        Year of birth, if it matters
        <Input
          value={born}
          onChange={(e) => setBorn(e.target.value.replace(/\D/g, ""))}
          inputMode="numeric"
          autoComplete="off"
        />
      </label>
      <label>
        What they come for
        <Input value={aim} onChange={(e) => setAim(e.target.value)} autoComplete="off" />
      </label>
      <div className={css.measures}>
        <Measured label="Height" unitLabel="Unit of height" units={HEIGHTS} {...height.field} />
        <Measured label="Mass" unitLabel="Unit of mass" units={MASSES} {...mass.field} />
      </div>
      <label htmlFor="level">How they play</label>
      <Select
        id="level"
        value={level ?? ""}
        onChange={(to) => setLevel((to as Facts["level"]) || null)}
        options={[
          { value: "" as const, label: "Not noted" },
          ...Object.entries(LEVELS).map(([value, label]) => ({
            value: value as Schemas["PlayingLevel"],
            label,
          })),
        ]}
      />
      <Checkbox checked={leftHanded} onChange={(e) => setLeftHanded(e.target.checked)}>
        Plays left-handed
      </Checkbox>
      <FormTrouble error={error} />
      <Button type="primary" htmlType="submit" loading={sending}>
        {act}
      </Button>
    </form>
  );
}
