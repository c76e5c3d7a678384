// A session's record, put right: whose it was, what for, with which club, on which day,
// what its blocks were; or the session taken out.

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Modal, Select } from "antd";
import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";
import { answered, api } from "../app/api";
import { useMe, usePlayers } from "../app/asked";
import type { Words } from "../app/vocabulary";
import { DayField } from "../ui/DayField";
import { FormTrouble } from "../ui/FormTrouble";
import type { SessionView } from "./queries";

interface Props {
  session: SessionView;
  words: Words;
}

export function CorrectSession({ session, words }: Props) {
  const [open, setOpen] = useState(false);
  const me = useMe();
  if (me.data?.role === "assistant") return null;
  return (
    <>
      <button type="button" className="text-act" onClick={() => setOpen(true)}>
        Put right
      </button>
      <Modal
        open={open}
        onCancel={() => setOpen(false)}
        title="Put this session right"
        footer={null}
        destroyOnHidden
      >
        <Right session={session} words={words} close={() => setOpen(false)} />
      </Modal>
    </>
  );
}

/** The day of a moment at a place, as fields take it. */
function dayAt(moment: string, zone: string): string {
  return new Date(moment).toLocaleDateString("sv-SE", { timeZone: zone });
}

function Right({ session, words, close }: Props & { close: () => void }) {
  const players = usePlayers();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [player, setPlayer] = useState(session.player);
  const [purpose, setPurpose] = useState<string>(session.purpose_key);
  const [club, setClub] = useState<string>(session.club_key);
  const [day, setDay] = useState(dayAt(session.started_at, session.zone));
  const [labels, setLabels] = useState<Record<string, string>>({});
  const [sure, setSure] = useState(false);
  const path = { session: session.id };
  const correct = useMutation({
    mutationFn: async () => {
      await answered(
        api.PUT("/api/v1/sessions/{session}/facts", {
          params: { path },
          body: { player, purpose, club, day },
        }),
      );
      for (const block of session.blocks) {
        const label = labels[block.id];
        if (label === undefined || label === block.label) continue;
        await answered(
          api.PUT("/api/v1/sessions/{session}/blocks/{block}", {
            params: { path: { ...path, block: block.id } },
            body: { label, club: block.plan.club ?? null },
          }),
        );
      }
    },
    onSuccess: () => {
      queries.invalidateQueries();
      close();
    },
  });
  const remove = useMutation({
    mutationFn: () => answered(api.DELETE("/api/v1/sessions/{session}", { params: { path } })),
    onSuccess: () => {
      navigate(`/players/${session.player}`);
      queries.invalidateQueries();
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    correct.mutate();
  };
  return (
    <form onSubmit={submit} className="form">
      <label>
        Player
        <Select
          aria-label="Player"
          style={{ width: "100%" }}
          value={player}
          onChange={setPlayer}
          showSearch={{ optionFilterProp: "label" }}
          options={players.data?.map((p) => ({ value: p.id, label: p.name }))}
        />
      </label>
      <label>
        Purpose
        <Select
          aria-label="Purpose"
          style={{ width: "100%" }}
          value={purpose}
          onChange={setPurpose}
          options={words.vocabulary.purposes.map((p) => ({ value: p.key, label: p.label }))}
        />
      </label>
      <label>
        Club
        <Select
          aria-label="Club"
          style={{ width: "100%" }}
          value={club}
          onChange={setClub}
          options={words.vocabulary.clubs.map((c) => ({ value: c.key, label: c.label }))}
        />
      </label>
      <label>
        Day
        <DayField value={day} onChange={(day) => setDay(day)} />
      </label>
      {session.blocks.map((block, i) => (
        <label key={block.id}>
          Block {i + 1}
          <Input
            value={labels[block.id] ?? block.label}
            onChange={(e) => setLabels((now) => ({ ...now, [block.id]: e.target.value }))}
          />
        </label>
      ))}
      <FormTrouble error={correct.error ?? remove.error} />
      <div className="plan-foot">
        <Button type="primary" htmlType="submit" loading={correct.isPending}>
          Put right
        </Button>
        {sure ? (
          <Button danger loading={remove.isPending} onClick={() => remove.mutate()}>
            Take it out with all its shots
          </Button>
        ) : (
          <Button onClick={() => setSure(true)}>Take this session out …</Button>
        )}
      </div>
    </form>
  );
}
