// A value to reach and the day by which, with the range of days on which it is to be expected.

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { type FormEvent, useState } from "react";
import { answered, api, type Quantity, type Schemas } from "../app/api";
import { keys } from "../app/keys";
import type { Words } from "../app/vocabulary";
import { DayField } from "../ui/DayField";
import { day } from "../ui/day";
import { FormTrouble } from "../ui/FormTrouble";
import css from "./RecordTab.module.css";

interface Props {
  player: string;
  club: Schemas["Club"];
  quantity: Quantity;
  forecast: Schemas["Forecast"] | undefined;
  words: Words;
}

export function GoalForm({ player, club, quantity, forecast, words }: Props) {
  const { dimension } = words.quantity(quantity);
  const [open, setOpen] = useState(false);
  const [value, setValue] = useState(forecast ? words.field(dimension, forecast.goal) : "");
  const [by, setBy] = useState(forecast?.by ?? "");
  const client = useQueryClient();
  const path = { player, club, quantity };
  const url = "/api/v1/players/{player}/goals/{club}/{quantity}" as const;
  const done = () => {
    setOpen(false);
    return client.invalidateQueries({ queryKey: keys.player.all(player) });
  };
  const set = useMutation({
    mutationFn: () =>
      answered(
        api.PUT(url, {
          params: { path },
          body: {
            value: {
              value: value.trim() === "" ? null : Number(value.replace(",", ".")),
              unit: words.suffix(dimension),
            },
            by: by || null,
          },
        }),
      ),
    onSuccess: done,
  });
  const drop = useMutation({
    mutationFn: () => answered(api.DELETE(url, { params: { path } })),
    onSuccess: done,
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    set.mutate();
  };
  return (
    <>
      {forecast && !open && (
        <>
          <p className={css.goal}>
            <b>{words.show(dimension, forecast.goal)}</b> {inWords(forecast)}
          </p>
          <button type="button" className="link" onClick={() => setOpen(true)}>
            Change
          </button>{" "}
          <button type="button" className="link" onClick={() => drop.mutate()}>
            Drop
          </button>
        </>
      )}
      {!forecast && !open && (
        <p className="quiet">
          None with this value.{" "}
          <button type="button" className="link" onClick={() => setOpen(true)}>
            Set one
          </button>
        </p>
      )}
      {open && (
        <form className={css.form} onSubmit={submit}>
          <label>
            <span>Average to reach, {words.symbol(dimension) || "ratio"}</span>
            <Input value={value} inputMode="decimal" onChange={(e) => setValue(e.target.value)} />
          </label>
          <label>
            <span>By, if there is a day</span>
            <DayField value={by} onChange={(day) => setBy(day)} />
          </label>
          <Button type="primary" htmlType="submit" loading={set.isPending}>
            Set
          </Button>
          <button type="button" className="link" onClick={() => setOpen(false)}>
            Leave it
          </button>
        </form>
      )}
      <FormTrouble error={set.error ?? drop.error} />
    </>
  );
}

const told = (date: string) => day(date, "UTC");

/** When it is to be expected, as a range, with the chance by its day. */
function inWords(forecast: Schemas["Forecast"]): string {
  const { reached, from, to, by, chance, within_two_years } = forecast;
  if (reached) return "is reached: the level stands there.";
  const tens = Math.round(chance * 10);
  const chances = tens <= 0 ? "hardly a chance" : tens >= 10 ? "almost sure" : `${tens} in 10`;
  const until = by ? ` By ${told(by)}: ${chances}.` : ` Within half a year: ${chances}.`;
  if (within_two_years < 0.1) return `is not in sight: at this rate not within two years.${until}`;
  if (!from) return `may be reached within two years, and may not.${until}`;
  if (!to) return `from ${told(from)} at the earliest, and it may take over two years.${until}`;
  return `between ${told(from)} and ${told(to)}, four times in five.${until}`;
}
