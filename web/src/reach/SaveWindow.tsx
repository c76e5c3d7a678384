// A shot's launch and spin as what a player aims for with the club.

import { Button, Modal, Select } from "antd";
import { useState } from "react";
import type { Schemas } from "../app/api";
import { usePlayers } from "../app/asked";
import type { Words } from "../app/vocabulary";
import { FormTrouble } from "../ui/FormTrouble";
import { useSaveWindow } from "./queries";

interface Props {
  letter: string;
  club: string;
  launch: Schemas["Launch"];
  words: Words;
}

export function SaveWindow({ letter, club, launch, words }: Props) {
  const [open, setOpen] = useState(false);
  const [player, setPlayer] = useState<string>();
  const players = usePlayers();
  const save = useSaveWindow();
  const label = words.club(club);
  const name = players.data?.find((p) => p.id === player)?.name;
  const saved = save.data;
  return (
    <>
      <Button
        onClick={() => {
          save.reset();
          setOpen(true);
        }}
      >
        Save as a player’s target
      </Button>
      <Modal
        open={open}
        onCancel={() => setOpen(false)}
        title={`${letter} as a target with the ${label.toLowerCase()}`}
        footer={null}
        destroyOnHidden
      >
        <div className="form">
          <p>
            The map of launch and spin in this player’s sessions with the club will show it as the
            window to hit, in place of ours.
          </p>
          <span id="save-player">Player</span>
          <Select
            aria-labelledby="save-player"
            showSearch={{ optionFilterProp: "label" }}
            value={player}
            onChange={setPlayer}
            options={players.data
              ?.filter((p) => !p.archived_at)
              .map((p) => ({ value: p.id, label: p.name }))}
          />
          <FormTrouble error={save.error} />
          {saved && (
            <p role="status">
              Saved for {name}: launch {words.bare("angle", saved.launch_angle_deg[0] ?? 0)} to{" "}
              {words.show("angle", saved.launch_angle_deg[1] ?? 0)}, spin{" "}
              {words.bare("spin", saved.spin_rate_rpm[0] ?? 0)} to{" "}
              {words.show("spin", saved.spin_rate_rpm[1] ?? 0)}.
            </p>
          )}
          <Button
            type="primary"
            disabled={!player}
            loading={save.isPending}
            onClick={() =>
              player &&
              save.mutate({
                player,
                club,
                body: {
                  launch_angle_deg: launch.launch_angle_deg,
                  spin_rate_rpm: launch.spin_rate_rpm,
                },
              })
            }
          >
            Save
          </Button>
        </div>
      </Modal>
    </>
  );
}
