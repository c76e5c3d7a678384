// Which club and which player a question of the bench is about.

import { Select } from "antd";
import { useId } from "react";
import { usePlayers } from "../app/asked";
import type { Words } from "../app/vocabulary";
import reachCss from "./reach.module.css";

interface ClubProps {
  club: string;
  choose: (club: string) => void;
  words: Words;
}

export function ClubChoice({ club, choose, words }: ClubProps) {
  const id = useId();
  return (
    <div className={reachCss.choiceRow}>
      <span id={id}>Club</span>
      <Select
        aria-labelledby={id}
        value={club}
        onChange={choose}
        options={words.vocabulary.clubs.map((c) => ({ value: c.key, label: c.label }))}
      />
    </div>
  );
}

interface PlayerProps {
  player: string | undefined;
  choose: (player: string | undefined) => void;
  /** What is taken without one. */
  without: string;
}

export function PlayerChoice({ player, choose, without }: PlayerProps) {
  const id = useId();
  const players = usePlayers();
  return (
    <div className={reachCss.choiceRow}>
      <span id={id}>Player</span>
      <Select
        aria-labelledby={id}
        allowClear
        placeholder={without}
        value={player}
        onChange={(next) => choose(next ?? undefined)}
        options={players.data
          ?.filter((p) => !p.archived_at)
          .map((p) => ({ value: p.id, label: p.name }))}
      />
    </div>
  );
}
