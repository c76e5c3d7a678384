// The school's devices: named, trusted by a secret of their own, with their offsets.

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Modal, Select } from "antd";
import { type FormEvent, useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, type Quantity, type Schemas } from "../app/api";
import { useMe, useSchool } from "../app/asked";
import { keys } from "../app/keys";
import { useWords, type Words } from "../app/vocabulary";
import { FormTrouble } from "../ui/FormTrouble";
import { typed } from "../ui/Measured";
import { Loading, Nothing, Trouble } from "../ui/Notice";
import { SchoolHead } from "../ui/SchoolHead";
import { SecretOnce } from "../ui/SecretOnce";
import css from "./DevicesPage.module.css";

type Device = Schemas["DeviceView"];

export const KINDS = [
  { value: "radar", label: "Radar" },
  { value: "camera", label: "Camera" },
  { value: "hand_radar", label: "Hand radar" },
  { value: "force_plate", label: "Force plate" },
];

export function useDevices() {
  return useQuery({
    queryKey: keys.devices,
    queryFn: () => answered(api.GET("/api/v1/devices")),
    refetchInterval: 5_000,
  });
}

export function DevicesPage() {
  const words = useWords();
  const school = useSchool();
  const mayOwn = useMe().data?.may_own === true;
  const found = useDevices();
  const [adding, setAdding] = useState(false);
  const [secret, setSecret] = useState<{ device: string; token: string }>();
  if (found.isError && !found.data) return <Trouble error={found.error} retry={found.refetch} />;
  if (!found.data || !words) return <Loading />;
  const add = mayOwn && (
    <Button type="primary" onClick={() => setAdding(true)}>
      Add a device
    </Button>
  );
  return (
    <div className="page">
      <SchoolHead />
      <div className="page-head">
        <div>
          <h1>Devices</h1>
          <p className="quiet">
            They connect to {school.data?.intake ?? "the intake"} and show the secret they were
            given.
          </p>
        </div>
        {found.data.length > 0 && add}
      </div>
      {found.data.length === 0 ? (
        <Nothing title="No devices yet">
          <p>
            Add the first one and give it its secret. To try everything without any, use the
            practice device of a session.
          </p>
          {add}
        </Nothing>
      ) : (
        <ul className="rows devices">
          {found.data.map((device) => (
            <DeviceRow
              key={device.id}
              device={device}
              words={words}
              mayChange={mayOwn}
              renewed={(token) => setSecret({ device: device.name, token })}
            />
          ))}
        </ul>
      )}
      <AddDevice
        open={adding}
        close={() => setAdding(false)}
        added={(device, token) => setSecret({ device, token })}
      />
      <SecretOnce
        title={`The secret of ${secret?.device}`}
        text={secret?.token}
        close={() => setSecret(undefined)}
      >
        Copy it into the device now: it is not shown again.
      </SecretOnce>
    </div>
  );
}

function DeviceRow(props: {
  device: Device;
  words: Words;
  mayChange: boolean;
  renewed: (token: string) => void;
}) {
  const { device, words, mayChange, renewed } = props;
  const [open, setOpen] = useState(false);
  const queries = useQueryClient();
  const renew = useMutation({
    mutationFn: () =>
      answered(
        api.POST("/api/v1/devices/{device}/token", { params: { path: { device: device.id } } }),
      ),
    onSuccess: ({ token }) => {
      renewed(token);
      queries.invalidateQueries({ queryKey: keys.devices });
    },
  });
  const names = (keys: Quantity[]) => keys.map((q) => words.quantity(q).label.toLowerCase());
  const offsets = Object.entries(device.offsets);
  const clock = device.clock_ahead_s;
  return (
    <li>
      <div className={css.device}>
        <div>
          <span className="row-name">{device.name}</span>
          <p className="quiet">
            {KINDS.find((kind) => kind.value === device.kind)?.label ?? device.kind}
            {device.practice && ", simulated"}
          </p>
        </div>
        <div>
          {device.measures.length > 0 && <p>measures {names(device.measures).join(", ")}</p>}
          {device.calculates.length > 0 && (
            <p className="quiet">≈ calculates {names(device.calculates).join(", ")}</p>
          )}
          {offsets.length > 0 && (
            <p>
              offset{" "}
              {offsets
                .map(([key, si]) => {
                  const { label, dimension } = words.quantity(key as Quantity);
                  const sign = si < 0 ? "−" : "+";
                  return `${label.toLowerCase()} ${sign}${words.show(dimension, Math.abs(si))}`;
                })
                .join(", ")}
            </p>
          )}
          {clock != null && Math.abs(clock) > 1 && (
            <p className="quiet">
              its clock is {Math.abs(Math.round(clock))} s {clock > 0 ? "ahead" : "behind"}; times
              are put right
            </p>
          )}
        </div>
        <p className={css.deviceState}>
          <i className={device.connected ? css.there : "gone"} aria-hidden="true" />
          {device.connected ? "connected" : "not connected"}
        </p>
        <div className="device-acts">
          {mayChange && (
            <Button onClick={() => setOpen(!open)} aria-expanded={open}>
              Change
            </Button>
          )}
          {mayChange && !device.practice && (
            <Button loading={renew.isPending} onClick={() => renew.mutate()}>
              New secret
            </Button>
          )}
        </div>
      </div>
      {open && <ChangeDevice device={device} words={words} done={() => setOpen(false)} />}
    </li>
  );
}

function ChangeDevice(props: { device: Device; words: Words; done: () => void }) {
  const { device, words, done } = props;
  const [name, setName] = useState(device.name);
  const [offsets, setOffsets] = useState(() =>
    Object.entries(device.offsets).map(([key, si]) => {
      const quantity = key as Quantity;
      const { dimension } = words.quantity(quantity);
      return { quantity, text: String(Math.round(words.scaled(dimension, si) * 1000) / 1000) };
    }),
  );
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: () =>
      answered(
        api.PUT("/api/v1/devices/{device}", {
          params: { path: { device: device.id } },
          body: {
            name,
            session: device.session ?? null,
            offsets: offsets.map(({ quantity, text }) => ({
              quantity,
              given: {
                value: typed(text),
                unit: words.suffix(words.quantity(quantity).dimension),
              },
            })),
          },
        }),
      ),
    onSuccess: () => {
      queries.invalidateQueries();
      done();
    },
  });
  const used = offsets.map((offset) => offset.quantity);
  return (
    <form
      className="form device-form"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <label>
        Name
        <Input value={name} onChange={(e) => setName(e.target.value)} />
      </label>
      <p className="quiet">
        An offset is added to each value of the device before it is used; its own reading stays.
      </p>
      {offsets.map(({ quantity, text }, i) => {
        const { label, dimension } = words.quantity(quantity);
        return (
          <label key={quantity}>
            Offset of {label.toLowerCase()}, {words.symbol(dimension)}
            <Input
              value={text}
              onChange={(e) =>
                setOffsets(
                  offsets.map((offset, j) =>
                    j === i ? { ...offset, text: e.target.value } : offset,
                  ),
                )
              }
              inputMode="decimal"
            />
          </label>
        );
      })}
      <Select
        aria-label="Add an offset"
        value=""
        onChange={(key) =>
          key !== "" && setOffsets([...offsets, { quantity: key as Quantity, text: "0" }])
        }
        options={[
          { value: "", label: "Add an offset…" },
          ...words.vocabulary.quantities
            .filter((q) => !used.includes(q.key))
            .map((q) => ({ value: q.key, label: q.label })),
        ]}
      />
      <FormTrouble error={save.error} />
      <Button type="primary" htmlType="submit" loading={save.isPending}>
        Save
      </Button>
    </form>
  );
}

interface AddProps {
  open: boolean;
  close: () => void;
  added: (device: string, token: string) => void;
}

function AddDevice({ open, close, added }: AddProps) {
  const [id, setId] = useState(() => uuid());
  const [name, setName] = useState("");
  const [kind, setKind] = useState("radar");
  const queries = useQueryClient();
  const add = useMutation({
    mutationFn: () => answered(api.POST("/api/v1/devices", { body: { id, name, kind } })),
    onSuccess: ({ token }) => {
      queries.invalidateQueries({ queryKey: keys.devices });
      added(name, token);
      setId(uuid());
      setName("");
      close();
    },
  });
  return (
    <Modal open={open} onCancel={close} title="Add a device" footer={null} destroyOnHidden>
      <form
        className="form"
        onSubmit={(event) => {
          event.preventDefault();
          add.mutate();
        }}
      >
        <label>
          Name
          <Input
            value={name}
            onChange={(e) => setName(e.target.value)}
            placeholder="Such as bay 2 radar"
            autoComplete="off"
          />
        </label>
        <label htmlFor="device-kind">Kind</label>
        <Select id="device-kind" value={kind} onChange={setKind} options={KINDS} />
        <FormTrouble error={add.error} />
        <Button type="primary" htmlType="submit" loading={add.isPending}>
          Add
        </Button>
      </form>
    </Modal>
  );
}
