// Simulated devices for the session, so that everything can be tried with none.

import { Button, Select } from "antd";
import { useState } from "react";
import type { Schemas } from "../../app/api";
import { FormTrouble } from "../../ui/FormTrouble";
import css from "./Practice.module.css";
import { type Played, usePractice } from "./queries";

const CHOICES: Record<string, { label: string; devices: Played[] }> = {
  radar: { label: "a radar", devices: ["radar"] },
  camera: { label: "a camera", devices: ["camera"] },
  both: { label: "radar and camera", devices: ["radar", "camera"] },
  hand_radar: { label: "a hand radar", devices: ["hand_radar"] },
  plate: { label: "camera and force plate", devices: ["camera", "force_plate"] },
};

/** What a purpose is mostly read by, where that is no radar. */
const USUAL: Partial<Record<Schemas["Purpose"], string>> = {
  force: "plate",
  training: "hand_radar",
};

interface Props {
  session: Schemas["SessionView"];
  stop: () => void;
}

export function Practice({ session, stop }: Props) {
  const [choice, setChoice] = useState(USUAL[session.purpose_key] ?? "radar");
  const begin = usePractice(session.id);
  if (!session.in_progress) return null;
  if (session.progress.practising) {
    return (
      <div className={css.practice}>
        <span>A virtual golfer hits.</span>
        <Button onClick={stop}>Stop practice device</Button>
      </div>
    );
  }
  return (
    <div className={css.practice}>
      <Button
        loading={begin.isPending}
        onClick={() => begin.mutate(CHOICES[choice]?.devices ?? ["radar"])}
      >
        Practice device
      </Button>
      <Select
        aria-label="Kind of practice device"
        variant="borderless"
        popupMatchSelectWidth={false}
        value={choice}
        onChange={setChoice}
        options={Object.entries(CHOICES).map(([value, { label }]) => ({ value, label }))}
      />
      <FormTrouble error={begin.error} />
    </div>
  );
}
