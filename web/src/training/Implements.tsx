// What there is to swing: names of our own, and how heavy beside a driver.

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Modal, Select } from "antd";
import { type FormEvent, useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, type Schemas } from "../app/api";
import { keys } from "../app/keys";
import type { Words } from "../app/vocabulary";
import { FormTrouble } from "../ui/FormTrouble";
import { typed } from "../ui/Measured";
import { said } from "../ui/Said";
import css from "./ProgrammesPage.module.css";
import { type ImplementView, useImplements } from "./queries";

const KINDS: Record<Schemas["ImplementKind"], string> = {
  lighter: "Stick, lighter than a driver",
  heavier: "Stick, heavier than a driver",
  counterweighted: "Counterweighted club",
  own_driver: "The player’s own driver",
  club: "Another club",
};

interface Props {
  words: Words;
  /** Names that protocols use and nobody has. */
  missing: string[];
  /** Whose; the school's when absent. */
  player?: string;
}

export function Implements({ words, missing, player }: Props) {
  const found = useImplements(player);
  const [editing, setEditing] = useState<Partial<ImplementView>>();
  const client = useQueryClient();
  const drop = useMutation({
    mutationFn: (implement: string) =>
      answered(api.DELETE("/api/v1/implements/{implement}", { params: { path: { implement } } })),
    onSuccess: () => changed(client),
  });
  // What is one player’s stands on that player’s page.
  const there = (found.data ?? []).filter((one) => (one.player ?? undefined) === player);
  const wanted = [...new Set(missing)].filter((name) => !there.some((one) => one.name === name));
  return (
    <>
      {there.length === 0 && player === undefined && (
        <p className="quiet">
          Nothing yet. Weigh each stick with its grip: within about a fifth of the driver’s mass,
          swings stay swings.
        </p>
      )}
      {there.length > 0 && (
        <ul className="rows">
          {there.map((one) => (
            <li key={one.id}>
              <div className={css.kinds}>
                <span className="row-name">{one.name}</span>
                <span className="row-aim">{KINDS[one.kind]}</span>
                <span>
                  {one.mass_kg ? `${Math.round(one.mass_kg * 1000)} g` : "not weighed"}
                  {one.share != null && one.kind !== "own_driver" && (
                    <small> {Math.round(one.share * 100)} % of a driver</small>
                  )}
                </span>
                <span className="row-last">
                  <button type="button" className="text-act" onClick={() => setEditing(one)}>
                    Correct
                  </button>{" "}
                  <button
                    type="button"
                    className="text-act"
                    aria-label={`Take out ${one.name}`}
                    onClick={() => drop.mutate(one.id)}
                  >
                    Take out
                  </button>
                </span>
                {one.concern && <span className={css.concern}>{said(one.concern, words)}</span>}
              </div>
            </li>
          ))}
        </ul>
      )}
      <FormTrouble error={drop.error} />
      <p className={css.add}>
        <Button onClick={() => setEditing({ player })}>Add an implement</Button>
        {wanted.map((name) => (
          <button
            type="button"
            key={name}
            className="link"
            onClick={() => setEditing({ name, player })}
          >
            Add “{name}”
          </button>
        ))}
      </p>
      {editing && <ImplementForm of={editing} close={() => setEditing(undefined)} />}
    </>
  );
}

function changed(client: ReturnType<typeof useQueryClient>) {
  client.invalidateQueries({ queryKey: keys.anyImplements });
  client.invalidateQueries({ queryKey: keys.protocols });
}

/** The kind that a name of ours is likely of. */
function likely(name: string): Schemas["ImplementKind"] {
  if (name === "heavy") return "heavier";
  if (name === "counterweighted") return "counterweighted";
  return name === "own driver" ? "own_driver" : "lighter";
}

function ImplementForm({ of, close }: { of: Partial<ImplementView>; close: () => void }) {
  const [id] = useState(() => of.id ?? uuid());
  const [name, setName] = useState(of.name ?? "");
  const [kind, setKind] = useState(of.kind ?? likely(of.name ?? ""));
  const [mass, setMass] = useState(of.mass_kg ? String(Math.round(of.mass_kg * 1000)) : "");
  const [length, setLength] = useState(of.length_m ? String(Math.round(of.length_m * 100)) : "");
  const client = useQueryClient();
  const centimetres = length.trim() ? typed(length) : null;
  const save = useMutation({
    mutationFn: () =>
      answered(
        api.PUT("/api/v1/implements/{implement}", {
          params: { path: { implement: id } },
          body: {
            player: of.player ?? null,
            name,
            kind,
            mass: mass.trim() ? { value: typed(mass), unit: "g" } : null,
            length: length.trim()
              ? { value: centimetres === null ? null : centimetres / 100, unit: "m" }
              : null,
          },
        }),
      ),
    onSuccess: () => {
      changed(client);
      close();
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate();
  };
  return (
    <Modal
      open
      onCancel={close}
      title={of.id ? `Correct “${of.name}”` : "An implement"}
      footer={null}
      destroyOnHidden
    >
      <form className="form" onSubmit={submit}>
        <label>
          Name, as its swings are kept
          <Input
            value={name}
            disabled={of.id !== undefined}
            onChange={(e) => setName(e.target.value)}
            autoComplete="off"
          />
        </label>
        <label htmlFor="implement-kind">Kind</label>
        <Select
          id="implement-kind"
          value={kind}
          onChange={setKind}
          options={Object.entries(KINDS).map(([value, label]) => ({ value, label }))}
        />
        <label>
          Mass, g
          <Input value={mass} inputMode="decimal" onChange={(e) => setMass(e.target.value)} />
        </label>
        <label>
          Length, cm
          <Input value={length} inputMode="decimal" onChange={(e) => setLength(e.target.value)} />
        </label>
        <FormTrouble error={save.error} />
        <Button type="primary" htmlType="submit" loading={save.isPending}>
          Keep
        </Button>
      </form>
    </Modal>
  );
}
