// Named tests to come back to, each with what it gave that day.

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { v7 as uuid } from "uuid";
import { answered, api, type Quantity, type Schemas } from "../app/api";
import { keys } from "../app/keys";
import type { Words } from "../app/vocabulary";
import { day } from "../ui/day";
import { FormTrouble } from "../ui/FormTrouble";
import { said } from "../ui/Said";
import css from "./RecordTab.module.css";

interface Props {
  player: string;
  view: Schemas["RecordView"];
  club: Schemas["Club"];
  quantity: Quantity;
  words: Words;
}

export function Benchmarks({ player, view, club, quantity, words }: Props) {
  const client = useQueryClient();
  const again = () => client.invalidateQueries({ queryKey: keys.player.all(player) });
  const drop = useMutation({
    mutationFn: (benchmark: string) =>
      answered(
        api.DELETE("/api/v1/players/{player}/benchmarks/{benchmark}", {
          params: { path: { player, benchmark } },
        }),
      ),
    onSuccess: again,
  });
  const own = view.benchmarks.filter((benchmark) => benchmark.club === club);
  return (
    <>
      {own.map((benchmark) => {
        const figure = benchmark.figures.find((f) => f.quantity === quantity);
        const { dimension } = words.quantity(quantity);
        return (
          <div key={benchmark.id} className={css.benchmark}>
            <p>
              <b>{benchmark.name}</b>{" "}
              {benchmark.session ? (
                <Link to={`/sessions/${benchmark.session}/read`}>
                  {day(benchmark.held_on, "UTC")}
                </Link>
              ) : (
                day(benchmark.held_on, "UTC")
              )}
              {figure && (
                <>
                  {" "}
                  · average <b>{words.show(dimension, figure.mean)}</b>
                  {figure.best != null && ` · best ${words.bare(dimension, figure.best)}`} ·{" "}
                  {figure.n} balls
                </>
              )}
            </p>
            <p className="quiet">
              {benchmark.setting.ball} ball, {benchmark.setting.place}
              {benchmark.setting.devices.length > 0 &&
                `, ${benchmark.setting.devices.join(" and ")}`}
              {benchmark.otherwise &&
                `. The latest session was no repetition: ${said(benchmark.otherwise, words)}`}
              .{" "}
              <Link
                to={`/players/${player}/prepare?purpose=benchmark&club=${club}&benchmark=${benchmark.id}`}
              >
                Repeat it
              </Link>{" "}
              <button type="button" className="link" onClick={() => drop.mutate(benchmark.id)}>
                Drop
              </button>
            </p>
          </div>
        );
      })}
      <MakeOne player={player} view={view} club={club} done={again} none={own.length === 0} />
      <FormTrouble error={drop.error} />
    </>
  );
}

function MakeOne(props: {
  player: string;
  view: Schemas["RecordView"];
  club: Schemas["Club"];
  done: () => void;
  none: boolean;
}) {
  const { player, view, club, done, none } = props;
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("Benchmark");
  const [session, setSession] = useState(view.sessions.at(-1)?.id);
  const make = useMutation({
    mutationFn: () =>
      answered(
        api.POST("/api/v1/players/{player}/benchmarks", {
          params: { path: { player } },
          body: { id: uuid(), session: session ?? "", name, club },
        }),
      ),
    onSuccess: () => {
      setOpen(false);
      done();
    },
  });
  if (!open)
    return (
      <p className="quiet">
        {none && "None with this club. "}
        <button type="button" className="link" onClick={() => setOpen(true)}>
          Make a session the benchmark
        </button>
      </p>
    );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    make.mutate();
  };
  return (
    <form className={css.form} onSubmit={submit}>
      <label>
        <span>Session</span>
        <Select
          aria-label="Session"
          value={session}
          onChange={setSession}
          popupMatchSelectWidth={false}
          options={[...view.sessions].reverse().map((s) => ({
            value: s.id,
            label: `${day(s.started_at, s.zone)} · ${s.purpose}`,
          }))}
        />
      </label>
      <label>
        <span>Name</span>
        <Input value={name} onChange={(e) => setName(e.target.value)} />
      </label>
      <Button type="primary" htmlType="submit" loading={make.isPending}>
        Freeze it
      </Button>
      <button type="button" className="link" onClick={() => setOpen(false)}>
        Leave it
      </button>
      <FormTrouble error={make.error} />
    </form>
  );
}
