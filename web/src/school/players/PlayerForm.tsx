// A player's facts: put in once, and put right later.

import { Button, Checkbox, Input } from "antd";
import { type FormEvent, useState } from "react";
import { FormTrouble } from "../../ui/FormTrouble";

export interface Facts {
  name: string;
  born: number | null;
  aim: string;
  left_handed: boolean;
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
  const [leftHanded, setLeftHanded] = useState(facts.left_handed);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    send({
      name,
      born: born.trim() === "" ? null : Number(born),
      aim,
      left_handed: leftHanded,
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
