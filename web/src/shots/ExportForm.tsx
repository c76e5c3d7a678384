// Shots as CSV: everything, or what a filter lets through.

import { Select } from "antd";
import { useState } from "react";
import { usePlayers } from "../app/asked";
import type { Words } from "../app/vocabulary";
import { DayField } from "../ui/DayField";
import shotsCss from "./shots.module.css";

export function ExportForm({ words }: { words: Words }) {
  const players = usePlayers();
  const [player, setPlayer] = useState("");
  const [club, setClub] = useState("");
  const [purpose, setPurpose] = useState("");
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const query = new URLSearchParams({ units: words.units });
  if (player) query.set("player", player);
  if (club) query.set("club", club);
  if (purpose) query.set("purpose", purpose);
  if (from) query.set("from", new Date(`${from}T00:00:00`).toISOString());
  // The day itself is wanted too.
  if (to) query.set("to", new Date(`${to}T24:00:00`).toISOString());
  return (
    <div className={shotsCss.fileForm}>
      <div>
        <label htmlFor="export-player">Player</label>
        <Select
          id="export-player"
          value={player}
          onChange={setPlayer}
          options={[
            { value: "", label: "everyone" },
            ...(players.data ?? []).map((p) => ({ value: p.id, label: p.name })),
          ]}
        />
      </div>
      <div>
        <label htmlFor="export-club">Club</label>
        <Select
          id="export-club"
          value={club}
          onChange={setClub}
          options={[
            { value: "", label: "any club" },
            ...words.vocabulary.clubs.map((c) => ({ value: c.key, label: c.label })),
          ]}
        />
      </div>
      <div>
        <label htmlFor="export-purpose">Purpose</label>
        <Select
          id="export-purpose"
          value={purpose}
          onChange={setPurpose}
          options={[
            { value: "", label: "any purpose" },
            ...words.vocabulary.purposes.map((p) => ({ value: p.key, label: p.label })),
          ]}
        />
      </div>
      <label>
        From
        <DayField value={from} onChange={(day) => setFrom(day)} />
      </label>
      <label>
        To
        <DayField value={to} onChange={(day) => setTo(day)} />
      </label>
      <a className={shotsCss.actLink} href={`/api/v1/shots.csv?${query}`} download>
        Download CSV
      </a>
    </div>
  );
}
