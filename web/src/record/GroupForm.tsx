// A group of players: its name and who is in it.

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, type Schemas } from "../app/api";
import { usePlayers } from "../app/asked";
import { keys } from "../app/keys";
import { FormTrouble } from "../ui/FormTrouble";

interface Props {
  group?: Schemas["GroupView"] | undefined;
  close: (saved?: string) => void;
}

export function GroupForm({ group, close }: Props) {
  const client = useQueryClient();
  const [id] = useState(group?.id ?? uuid());
  const [name, setName] = useState(group?.name ?? "");
  const [chosen, setChosen] = useState(group?.players ?? []);
  const players = usePlayers();
  const changed = (saved?: string) => {
    client.invalidateQueries({ queryKey: keys.groups });
    client.invalidateQueries({ queryKey: keys.anyClubLength });
    close(saved);
  };
  const save = useMutation({
    mutationFn: () =>
      answered(
        api.PUT("/api/v1/groups/{group}", {
          params: { path: { group: id } },
          body: { name, players: chosen },
        }),
      ),
    onSuccess: () => changed(id),
  });
  const drop = useMutation({
    mutationFn: () =>
      answered(api.DELETE("/api/v1/groups/{group}", { params: { path: { group: id } } })),
    onSuccess: () => changed(),
  });
  return (
    <form
      className="form"
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate();
      }}
    >
      <label>
        Name
        <Input value={name} onChange={(e) => setName(e.target.value)} />
      </label>
      <label>
        Players
        <Select
          mode="multiple"
          value={chosen}
          onChange={setChosen}
          aria-label="Players of the group"
          optionFilterProp="label"
          options={(players.data ?? []).map(({ id, name }) => ({ value: id, label: name }))}
        />
      </label>
      <FormTrouble error={save.error ?? drop.error} />
      <p>
        <Button type="primary" htmlType="submit" loading={save.isPending}>
          Save the group
        </Button>{" "}
        <Button onClick={() => close()}>Cancel</Button>{" "}
        {group && (
          <Button onClick={() => drop.mutate()} loading={drop.isPending}>
            Drop it, keep its players
          </Button>
        )}
      </p>
    </form>
  );
}
