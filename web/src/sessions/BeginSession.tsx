import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Modal, Select } from "antd";
import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";
import { v7 as uuid } from "uuid";
import { answered, api } from "../app/api";
import { useWords } from "../app/vocabulary";
import { FormTrouble } from "../ui/FormTrouble";

/** A typed number; what is not one is left for the server to refuse by name. */
function typed(text: string): number | null {
  const value = Number(text.replace(",", ".").trim() || "none");
  return Number.isNaN(value) ? null : value;
}

export function BeginSession(props: { player: string; open: boolean; close: () => void }) {
  const words = useWords();
  const [ids, setIds] = useState(() => ({ session: uuid(), block: uuid() }));
  const [purpose, setPurpose] = useState("benchmark");
  const [club, setClub] = useState("driver");
  const [place, setPlace] = useState("");
  const [altitude, setAltitude] = useState("0");
  const [altitudeUnit, setAltitudeUnit] = useState("m");
  const [temperature, setTemperature] = useState("20");
  const [temperatureUnit, setTemperatureUnit] = useState("c");
  const [block, setBlock] = useState("Stock");
  const queries = useQueryClient();
  const navigate = useNavigate();
  const begin = useMutation({
    mutationFn: () =>
      answered(
        api.POST("/api/v1/sessions", {
          body: {
            id: ids.session,
            player: props.player,
            purpose,
            club,
            place,
            altitude: { value: typed(altitude), unit: altitudeUnit },
            temperature: { value: typed(temperature), unit: temperatureUnit },
            zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
            first_block: ids.block,
            first_block_label: block,
          },
        }),
      ),
    onSuccess: () => {
      queries.invalidateQueries({ queryKey: ["player", props.player] });
      queries.invalidateQueries({ queryKey: ["players"] });
      queries.invalidateQueries({ queryKey: ["school"] });
      navigate(`/sessions/${ids.session}/read`);
      setIds({ session: uuid(), block: uuid() });
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    begin.mutate();
  };
  return (
    <Modal
      open={props.open}
      onCancel={props.close}
      title="Begin a session"
      footer={null}
      destroyOnHidden
    >
      <form onSubmit={submit} className="form">
        <label htmlFor="purpose">Purpose</label>
        <Select
          id="purpose"
          value={purpose}
          onChange={setPurpose}
          options={words?.vocabulary.purposes.map((p) => ({ value: p.key, label: p.label }))}
        />
        <label htmlFor="club">Club</label>
        <Select
          id="club"
          value={club}
          onChange={setClub}
          options={words?.vocabulary.clubs.map((c) => ({ value: c.key, label: c.label }))}
        />
        <label>
          Place
          <Input value={place} onChange={(e) => setPlace(e.target.value)} autoComplete="off" />
        </label>
        <div className="pair">
          <Measured
            label="Height above the sea"
            unitLabel="Unit of height"
            value={altitude}
            onValue={setAltitude}
            unit={altitudeUnit}
            onUnit={setAltitudeUnit}
            units={{ m: "m", ft: "ft" }}
          />
          <Measured
            label="Temperature"
            unitLabel="Unit of temperature"
            value={temperature}
            onValue={setTemperature}
            unit={temperatureUnit}
            onUnit={setTemperatureUnit}
            units={{ c: "°C", f: "°F" }}
          />
        </div>
        <label>
          First block
          <Input value={block} onChange={(e) => setBlock(e.target.value)} autoComplete="off" />
        </label>
        <FormTrouble error={begin.error} />
        <Button type="primary" htmlType="submit" loading={begin.isPending}>
          Begin
        </Button>
      </form>
    </Modal>
  );
}

interface MeasuredProps {
  label: string;
  unitLabel: string;
  value: string;
  onValue: (value: string) => void;
  unit: string;
  onUnit: (unit: string) => void;
  units: Record<string, string>;
}

/** A number typed in a unit of the coach's choice. */
function Measured({ label, unitLabel, value, onValue, unit, onUnit, units }: MeasuredProps) {
  return (
    <>
      <label>
        {label}
        <Input value={value} onChange={(e) => onValue(e.target.value)} inputMode="decimal" />
      </label>
      <Select
        aria-label={unitLabel}
        value={unit}
        onChange={onUnit}
        options={Object.entries(units).map(([key, shown]) => ({ value: key, label: shown }))}
      />
    </>
  );
}
