// A protocol to write or to change: its levels, set by set.

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Modal, Select } from "antd";
import { type FormEvent, useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, type Schemas } from "../app/api";
import { keys } from "../app/keys";
import { Choose } from "../ui/Choose";
import { FormTrouble } from "../ui/FormTrouble";
import css from "./ProtocolForm.module.css";
import { type ProtocolView, useImplements } from "./queries";
import { POSITIONS, SIDES } from "./sets";

type ProtocolSet = Schemas["ProtocolSet"];
type Level = Schemas["ProtocolLevel"];

const fresh = (implement: string): ProtocolSet => ({
  of: { kind: "swings", implement, side: "dominant", position: "normal" },
  swings: 3,
  effort_pct: 100,
  rest_s: 60,
});

export function ProtocolForm({ of, close }: { of?: ProtocolView; close: () => void }) {
  const [id] = useState(() => of?.id ?? uuid());
  const there = useImplements().data ?? [];
  const first = there[0]?.name ?? "";
  const [name, setName] = useState(of?.protocol.name ?? "");
  const [about, setAbout] = useState(of?.protocol.about ?? "");
  const [source, setSource] = useState(of?.protocol.source ?? "");
  const [levels, setLevels] = useState<Level[]>(
    of?.protocol.levels ?? [{ name: "One", changes: "", sets: [fresh(first)] }],
  );
  const [at, setAt] = useState(0);
  const client = useQueryClient();
  const save = useMutation({
    mutationFn: () =>
      answered(
        api.PUT("/api/v1/protocols/{protocol}", {
          params: { path: { protocol: id } },
          body: { name, about, source, levels },
        }),
      ),
    onSuccess: () => {
      client.invalidateQueries({ queryKey: keys.protocols });
      close();
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate();
  };
  const level = levels[at] ?? levels[0];
  const change = (part: Partial<Level>) =>
    setLevels(levels.map((one, i) => (i === at ? { ...one, ...part } : one)));
  const sets = level?.sets ?? [];
  const put = (place: number, set: Partial<ProtocolSet>) =>
    change({ sets: sets.map((one, i) => (i === place ? { ...one, ...set } : one)) });
  const addLevel = () => {
    const last = levels[levels.length - 1];
    setLevels([
      ...levels,
      { name: `Level ${levels.length + 1}`, changes: "", sets: last ? [...last.sets] : [] },
    ]);
    setAt(levels.length);
  };
  const named = sets.flatMap((set) => (set.of.kind === "swings" ? [set.of.implement ?? ""] : []));
  const names = [...new Set([...there.map((one) => one.name), ...named])].filter(Boolean);
  return (
    <Modal
      open
      onCancel={close}
      title={of ? `Change “${of.protocol.name}”` : "A protocol"}
      footer={null}
      width={860}
      destroyOnHidden
    >
      <form className="form" onSubmit={submit}>
        <label>
          Name
          <Input value={name} onChange={(e) => setName(e.target.value)} autoComplete="off" />
        </label>
        <label>
          What it is for
          <Input value={about} onChange={(e) => setAbout(e.target.value)} autoComplete="off" />
        </label>
        <label>
          What it rests on
          <Input
            value={source}
            placeholder="Author and year"
            onChange={(e) => setSource(e.target.value)}
            autoComplete="off"
          />
        </label>
        <div className={css.levels}>
          <Choose
            legend="Level"
            of={levels.map((one, i) => [String(i), one.name || `Level ${i + 1}`] as const)}
            value={String(at)}
            choose={(to) => setAt(Number(to))}
          />
          <button type="button" className="link" onClick={addLevel}>
            Add a level
          </button>
          {levels.length > 1 && (
            <button
              type="button"
              className="link"
              onClick={() => {
                setLevels(levels.filter((_, i) => i !== at));
                setAt(0);
              }}
            >
              Take this level out
            </button>
          )}
        </div>
        <div className={css.two}>
          <label>
            Name of the level
            <Input value={level?.name} onChange={(e) => change({ name: e.target.value })} />
          </label>
          <label>
            What changes from the level before
            <Input value={level?.changes} onChange={(e) => change({ changes: e.target.value })} />
          </label>
        </div>
        <ol className={css.sets}>
          {sets.map((set, place) => (
            <li key={place}>
              <SetRow
                set={set}
                place={place}
                names={names}
                put={(part) => put(place, part)}
                take={() => change({ sets: sets.filter((_, i) => i !== place) })}
              />
            </li>
          ))}
        </ol>
        <p className={css.add}>
          <button
            type="button"
            className="link"
            onClick={() => {
              const last = sets[sets.length - 1];
              change({ sets: [...sets, last ? { ...last } : fresh(first)] });
            }}
          >
            Add a set
          </button>
          <button
            type="button"
            className="link"
            onClick={() =>
              change({
                sets: [
                  ...sets,
                  {
                    of: { kind: "balls", club: "driver" },
                    swings: 5,
                    effort_pct: 100,
                    rest_s: 120,
                  },
                ],
              })
            }
          >
            Add a bundle of balls
          </button>
        </p>
        <FormTrouble error={save.error} />
        <Button type="primary" htmlType="submit" loading={save.isPending}>
          Keep
        </Button>
      </form>
    </Modal>
  );
}

function SetRow(props: {
  set: ProtocolSet;
  place: number;
  names: string[];
  put: (part: Partial<ProtocolSet>) => void;
  take: () => void;
}) {
  const { set, place, names, put, take } = props;
  const { of } = set;
  const n = place + 1;
  const number = (label: string, value: number, key: "swings" | "effort_pct" | "rest_s") => (
    <label>
      <span className="sr-only">
        {label} of set {n}
      </span>
      <Input
        value={value}
        inputMode="numeric"
        suffix={key === "swings" ? "×" : key === "effort_pct" ? "%" : "s"}
        onChange={(e) => put({ [key]: Math.round(Number(e.target.value.replace(/\D/g, ""))) })}
      />
    </label>
  );
  return (
    <div className={css.set}>
      {of.kind === "swings" ? (
        <>
          <Select
            aria-label={`Implement of set ${n}`}
            value={of.implement || undefined}
            placeholder="implement"
            onChange={(implement) => put({ of: { ...of, implement } })}
            options={names.map((value) => ({ value, label: value }))}
          />
          <Select
            aria-label={`Side of set ${n}`}
            value={of.side}
            onChange={(side) => put({ of: { ...of, side } })}
            options={SIDES.map(([value, label]) => ({ value, label }))}
          />
          <Select
            aria-label={`Position of set ${n}`}
            value={of.position}
            onChange={(position) => put({ of: { ...of, position } })}
            options={POSITIONS.map(([value, label]) => ({ value, label }))}
          />
        </>
      ) : (
        <span className={css.balls}>balls with the driver</span>
      )}
      {number("Swings", set.swings, "swings")}
      {number("Effort", set.effort_pct, "effort_pct")}
      {number("Rest after", set.rest_s, "rest_s")}
      <button type="button" className="link" onClick={take} aria-label={`Take set ${n} out`}>
        ×
      </button>
    </div>
  );
}
