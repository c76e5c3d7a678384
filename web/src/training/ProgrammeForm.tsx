// A programme to lay: which protocols, how often, on which days, for how long.

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Modal, Select } from "antd";
import { type FormEvent, useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, type Schemas } from "../app/api";
import { keys } from "../app/keys";
import { ZONE } from "../app/local";
import { DayField } from "../ui/DayField";
import { FormTrouble } from "../ui/FormTrouble";
import css from "./ProgrammeForm.module.css";
import { useProtocols } from "./queries";

const DAYS: [Schemas["TrainingDay"], string][] = [
  ["monday", "Mon"],
  ["tuesday", "Tue"],
  ["wednesday", "Wed"],
  ["thursday", "Thu"],
  ["friday", "Fri"],
  ["saturday", "Sat"],
  ["sunday", "Sun"],
];

interface Part {
  protocol: string;
  a_week: string;
}

interface Props {
  player: string;
  /** The day it is where the player is. */
  today: string;
  close: () => void;
}

export function ProgrammeForm({ player, today, close }: Props) {
  const protocols = useProtocols();
  const client = useQueryClient();
  const [id] = useState(() => uuid());
  const [name, setName] = useState("Speed");
  const [begins, setBegins] = useState(today);
  const [weeks, setWeeks] = useState("8");
  const [days, setDays] = useState<Schemas["TrainingDay"][]>(["monday", "wednesday", "friday"]);
  const [rest, setRest] = useState("1");
  const [parts, setParts] = useState<Part[]>();
  const [checkIn, setCheckIn] = useState("4");
  const [lighter, setLighter] = useState("4");
  const [upAfter, setUpAfter] = useState("3");
  const [backAfter, setBackAfter] = useState("14");
  const [at, setAt] = useState("");
  const offered = protocols.data ?? [];
  const mix = parts ?? (offered[0] ? [{ protocol: offered[0].id, a_week: "3" }] : []);
  const whole = (text: string) => Math.round(Number(text.trim() || "0"));
  const lay = useMutation({
    mutationFn: () =>
      answered(
        api.PUT("/api/v1/players/{player}/programme", {
          params: { path: { player } },
          body: {
            id,
            programme: {
              name,
              begins,
              weeks: whole(weeks),
              days,
              rest_days: whole(rest),
              mix: mix.map((part) => ({ protocol: part.protocol, a_week: whole(part.a_week) })),
              check_in_weeks: whole(checkIn),
              lighter_weeks: whole(lighter),
              progression: { up_after: whole(upAfter), back_after_days: whole(backAfter) },
              at: at ? `${at}:00` : null,
              zone: ZONE,
            },
          },
        }),
      ),
    onSuccess: () => {
      client.invalidateQueries({ queryKey: keys.player.programme(player) });
      client.invalidateQueries({ queryKey: keys.trainingToday });
      close();
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    lay.mutate();
  };
  const change = (place: number, part: Partial<Part>) =>
    setParts(mix.map((one, i) => (i === place ? { ...one, ...part } : one)));
  const number = (label: string, value: string, set: (value: string) => void) => (
    <label>
      {label}
      <Input value={value} inputMode="numeric" onChange={(e) => set(e.target.value)} />
    </label>
  );
  return (
    <Modal open onCancel={close} title="Lay a programme" footer={null} width={620} destroyOnHidden>
      <form className="form" onSubmit={submit}>
        <div className={css.two}>
          <label>
            Name
            <Input value={name} onChange={(e) => setName(e.target.value)} autoComplete="off" />
          </label>
          <label>
            Begins
            <DayField value={begins} onChange={(day) => setBegins(day)} />
          </label>
          {number("Weeks", weeks, setWeeks)}
          <label>
            Time of day, if agreed
            <Input type="time" value={at} onChange={(e) => setAt(e.target.value)} />
          </label>
        </div>
        <fieldset className={css.days}>
          <legend>The player’s days</legend>
          {DAYS.map(([key, label]) => (
            <button
              type="button"
              key={key}
              aria-pressed={days.includes(key)}
              onClick={() =>
                setDays(days.includes(key) ? days.filter((d) => d !== key) : [...days, key])
              }
            >
              {label}
            </button>
          ))}
        </fieldset>
        {mix.map((part, place) => (
          <div key={place} className={css.part}>
            <Select
              aria-label={`Protocol ${place + 1}`}
              value={part.protocol}
              onChange={(protocol) => change(place, { protocol })}
              options={offered.map((one) => ({ value: one.id, label: one.protocol.name }))}
            />
            <label>
              <span className="sr-only">Sessions a week of protocol {place + 1}</span>
              <Input
                value={part.a_week}
                inputMode="numeric"
                suffix="a week"
                onChange={(e) => change(place, { a_week: e.target.value })}
              />
            </label>
            <button
              type="button"
              className="link"
              onClick={() => setParts(mix.filter((_, i) => i !== place))}
            >
              Leave out
            </button>
          </div>
        ))}
        <button
          type="button"
          className="link"
          onClick={() => {
            const other = offered.find((one) => !mix.some((part) => part.protocol === one.id));
            if (other) setParts([...mix, { protocol: other.id, a_week: "1" }]);
          }}
        >
          Another protocol beside it
        </button>
        <div className={css.two}>
          {number("Rest days between, at least", rest, setRest)}
          {number("Check-in every … weeks (0: never)", checkIn, setCheckIn)}
          {number("Lighter week every … weeks (0: never)", lighter, setLighter)}
          {number("Next level after … whole sessions", upAfter, setUpAfter)}
          {number("Level before after … days without", backAfter, setBackAfter)}
        </div>
        <FormTrouble error={lay.error} />
        <Button type="primary" htmlType="submit" loading={lay.isPending}>
          Lay it on these days
        </Button>
      </form>
    </Modal>
  );
}
