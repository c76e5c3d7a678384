// The players that a file names, and who they are here.

import { Select } from "antd";
import { useEffect } from "react";
import type { Schemas } from "../app/api";
import { usePlayers } from "../app/asked";
import css from "./ImportForm.module.css";

/** A player's identifier, "new" or "none", by what the file calls them. */
export type Whose = Record<string, string>;

interface Props {
  players: Schemas["PlayersRows"][];
  whose: Whose;
  change: (change: (now: Whose) => Whose) => void;
}

export function ImportPlayers({ players, whose, change }: Props) {
  const known = usePlayers();
  // Who has the very name is most likely meant; it is seen and can be changed.
  useEffect(() => {
    if (!known.data) return;
    const same = (name: string) =>
      known.data.find((p) => p.name.toLowerCase() === name.toLowerCase())?.id;
    change((now) => {
      const next = { ...now };
      for (const { name } of players) next[name] ??= same(name) as string;
      return next;
    });
  }, [known.data, players, change]);
  return (
    <section aria-label="Whose shots" className={css.players}>
      <h3>Whose shots</h3>
      <ul>
        {players.map(({ name, rows }) => (
          <li key={name}>
            <span>
              {name} <small>{rows === 1 ? "1 row" : `${rows} rows`} seen</small>
            </span>
            <Select
              aria-label={`Who ${name} is`}
              value={whose[name]}
              placeholder="choose who this is"
              onChange={(value) => change((now) => ({ ...now, [name]: value }))}
              options={[
                { value: "new", label: `a new player, ${name}` },
                { value: "none", label: "leave these rows out" },
                ...(known.data ?? []).map((p) => ({ value: p.id, label: p.name })),
              ]}
            />
          </li>
        ))}
      </ul>
    </section>
  );
}
