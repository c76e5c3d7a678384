// What happens to a plan: a session moved, an absence, the end.

import { Button, Input, Modal } from "antd";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../app/api";
import { Choose } from "../ui/Choose";
import { DayField } from "../ui/DayField";
import { day } from "../ui/day";
import { FormTrouble } from "../ui/FormTrouble";
import { type ProgrammeView, useBeginRun, useChangeProgramme } from "./queries";

/** A day: moved, begun, or looked at. */
export function ChangeDay(props: {
  player: string;
  chosen: Schemas["TrainingDayView"];
  close: () => void;
}) {
  const { player, chosen, close } = props;
  const [to, setTo] = useState(chosen.date);
  const change = useChangeProgramme(player, close);
  const begin = useBeginRun(player);
  const open = ["today", "to_come", "missed"].includes(chosen.state);
  const protocol = chosen.day_for.kind === "protocol" ? chosen.day_for.protocol : undefined;
  return (
    <Modal
      open
      onCancel={close}
      title={`${chosen.title}, ${day(chosen.date, "UTC")}`}
      footer={null}
      destroyOnHidden
    >
      {chosen.session && (
        <p>
          <Link to={`/sessions/${chosen.session}/${protocol ? "run" : "read"}`}>What it gave</Link>
        </p>
      )}
      {chosen.state === "away" && <p className="quiet">The player does not train on this day.</p>}
      {open && (
        <form
          className="form"
          onSubmit={(event) => {
            event.preventDefault();
            change.mutate({ kind: "move", from: chosen.date, to });
          }}
        >
          <label>
            Move it to
            <DayField value={to} onChange={(day) => setTo(day)} />
          </label>
          <p className="quiet">Sessions after it make way as far as rest days ask.</p>
          <FormTrouble error={change.error ?? begin.error} />
          <Button
            htmlType="submit"
            type="primary"
            loading={change.isPending}
            disabled={to === chosen.date}
          >
            Move
          </Button>
          {protocol && (
            <Button
              loading={begin.isPending}
              onClick={() => begin.mutate({ protocol, place: chosen.place })}
            >
              Hold it now
            </Button>
          )}
        </form>
      )}
    </Modal>
  );
}

const WHY = [
  ["ill", "Ill"],
  ["pain", "Pain"],
  ["other", "Something else"],
] as const;

/** An absence, the way back, or the end. */
export function ChangePlan(props: { player: string; view: ProgrammeView; close: () => void }) {
  const { player, view, close } = props;
  const [why, setWhy] = useState<Schemas["Away"]>("ill");
  const { today } = view;
  const [from, setFrom] = useState(today);
  const [to, setTo] = useState("");
  const [note, setNote] = useState("");
  const change = useChangeProgramme(player, close);
  const away = view.days.some((one) => one.state === "away" && one.date >= today);
  return (
    <Modal open onCancel={close} title="A change of plan" footer={null} destroyOnHidden>
      {away && (
        <p>
          <Button onClick={() => change.mutate({ kind: "back", on: today })}>
            The player is back today
          </Button>
        </p>
      )}
      <form
        className="form"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate({ kind: "away", from, to: to || null, why, note });
        }}
      >
        <Choose legend="Why there is no training" of={WHY} value={why} choose={setWhy} />
        {why === "pain" && (
          <p className="quiet">
            Everything at full effort is held until you say that the player is back. Whether a sore
            back or joint may train is for a doctor or physiotherapist to say.
          </p>
        )}
        <label>
          From
          <DayField value={from} onChange={(day) => setFrom(day)} />
        </label>
        <label>
          Until, if it is known
          <DayField value={to} onChange={(day) => setTo(day)} />
        </label>
        <label>
          Note
          <Input value={note} onChange={(e) => setNote(e.target.value)} autoComplete="off" />
        </label>
        <FormTrouble error={change.error} />
        <Button htmlType="submit" type="primary" loading={change.isPending}>
          No training then
        </Button>
        <button
          type="button"
          className="link"
          onClick={() => change.mutate({ kind: "end", on: today })}
        >
          End the programme today
        </button>
      </form>
    </Modal>
  );
}
