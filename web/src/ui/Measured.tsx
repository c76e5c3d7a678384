// A number typed in a unit of the coach's choice.

import { Input, Select } from "antd";
import css from "./Measured.module.css";

interface Props {
  label: string;
  unitLabel: string;
  value: string;
  onValue: (value: string) => void;
  unit: string;
  onUnit: (unit: string) => void;
  units: Record<string, string>;
}

export function Measured({ label, unitLabel, value, onValue, unit, onUnit, units }: Props) {
  return (
    <div className={`measured-field ${css.measuredField}`}>
      <label>
        {label}
        <Input value={value} onChange={(e) => onValue(e.target.value)} inputMode="decimal" />
      </label>
      <Select
        aria-label={unitLabel}
        value={unit}
        onChange={onUnit}
        popupMatchSelectWidth={false}
        options={Object.entries(units).map(([key, shown]) => ({ value: key, label: shown }))}
      />
    </div>
  );
}

/** A typed number; what is not one is left for the server to refuse by name. */
export function typed(text: string): number | null {
  const value = Number(text.replace(",", ".").trim() || "none");
  return Number.isNaN(value) ? null : value;
}
