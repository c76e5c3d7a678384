// A club for the player's bag.

import { Button, Input, Modal, Select } from "antd";
import { type FormEvent, useState } from "react";
import { v7 as uuid } from "uuid";
import type { Words } from "../../app/vocabulary";
import { DayField } from "../../ui/DayField";
import { FormTrouble } from "../../ui/FormTrouble";
import { typed } from "../../ui/Measured";
import prepareCss from "./prepare.module.css";
import { useAddToBag } from "./queries";

interface Props {
  player: string;
  club: string;
  open: boolean;
  close: () => void;
  added: (club: { id: string; club: string }) => void;
  words: Words;
}

export function BagForm({ player, club, open, close, added, words }: Props) {
  const [id, setId] = useState(() => uuid());
  const [kind, setKind] = useState<string>();
  const [head, setHead] = useState("");
  const [loft, setLoft] = useState("");
  const [length, setLength] = useState("");
  const [mass, setMass] = useState("");
  const [flex, setFlex] = useState("");
  const [fitted, setFitted] = useState("");
  const add = useAddToBag(player);
  const number = (text: string) => (text.trim() === "" ? null : typed(text));
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const key = kind ?? club;
    const centimetres = number(length);
    add.mutate(
      {
        id,
        club: key,
        head,
        flex,
        loft_deg: number(loft),
        length_m: centimetres === null ? null : centimetres / 100,
        mass_g: number(mass),
        fitted_on: fitted || null,
      },
      {
        onSuccess: () => {
          added({ id, club: key });
          setId(uuid());
          close();
        },
      },
    );
  };
  return (
    <Modal open={open} onCancel={close} title="A club for the bag" footer={null} destroyOnHidden>
      <form onSubmit={submit} className="form">
        <label htmlFor="bag-kind">Kind</label>
        <Select
          id="bag-kind"
          value={kind ?? club}
          onChange={setKind}
          options={words.vocabulary.clubs.map((c) => ({ value: c.key, label: c.label }))}
        />
        <label>
          Head, in your words
          <Input value={head} onChange={(e) => setHead(e.target.value)} autoComplete="off" />
        </label>
        <div className={prepareCss.two}>
          <label>
            Loft, °
            <Input value={loft} onChange={(e) => setLoft(e.target.value)} inputMode="decimal" />
          </label>
          <label>
            Length, cm
            <Input value={length} onChange={(e) => setLength(e.target.value)} inputMode="decimal" />
          </label>
          <label>
            Mass, g
            <Input value={mass} onChange={(e) => setMass(e.target.value)} inputMode="decimal" />
          </label>
          <label>
            Shaft flex
            <Input value={flex} onChange={(e) => setFlex(e.target.value)} autoComplete="off" />
          </label>
          <label>
            Fitted on, if not today
            <DayField value={fitted} onChange={(day) => setFitted(day)} />
          </label>
        </div>
        <FormTrouble error={add.error} />
        <Button type="primary" htmlType="submit" loading={add.isPending}>
          Put into the bag
        </Button>
      </form>
    </Modal>
  );
}
