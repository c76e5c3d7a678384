// Who sees a player, and who says so.

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Checkbox, Select } from "antd";
import { useState } from "react";
import { answered, api, type Schemas } from "../../app/api";
import { keys } from "../../app/keys";
import { FormTrouble } from "../../ui/FormTrouble";
import { ROLES } from "../account/queries";
import css from "./Sharing.module.css";

export function Sharing({ player }: { player: string }) {
  const found = useQuery({
    queryKey: keys.player.sharing(player),
    queryFn: () =>
      answered(api.GET("/api/v1/players/{player}/sharing", { params: { path: { player } } })),
  });
  const [open, setOpen] = useState(false);
  // Nobody to share with: nothing to say.
  if (!found.data || found.data.people.length < 2) return null;
  const seen = found.data.people.filter((person) => person.sees);
  return (
    <>
      <h2>Who sees this player</h2>
      <p>
        {seen
          .map(({ id, name, role }) =>
            id === found.data.coach
              ? `${name} (their coach)`
              : `${name} (${ROLES[role].toLowerCase()})`,
          )
          .join(", ") || "Nobody yet."}{" "}
        {found.data.may_change && !open && (
          <button type="button" className="link" onClick={() => setOpen(true)}>
            Change
          </button>
        )}
      </p>
      {open && <Change player={player} now={found.data} done={() => setOpen(false)} />}
    </>
  );
}

function Change(props: { player: string; now: Schemas["Sharing"]; done: () => void }) {
  const { player, now, done } = props;
  const [coach, setCoach] = useState(now.coach ?? undefined);
  const [others, setOthers] = useState(() =>
    now.people.filter((p) => p.sees && p.role !== "owner" && p.id !== now.coach).map((p) => p.id),
  );
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: () =>
      answered(
        api.PUT("/api/v1/players/{player}/sharing", {
          params: { path: { player } },
          body: { coach: coach ?? "", shared_with: others },
        }),
      ),
    onSuccess: () => {
      queries.invalidateQueries();
      done();
    },
  });
  return (
    <form
      className={`form ${css.sharing}`}
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <div>
        <label htmlFor="their-coach">Their coach</label>
        <Select
          id="their-coach"
          aria-label="Their coach"
          value={coach}
          onChange={setCoach}
          options={now.people
            .filter((p) => p.role !== "assistant")
            .map((p) => ({ value: p.id, label: p.name }))}
        />
      </div>
      <fieldset>
        <legend>Shared with</legend>
        {now.people
          .filter((p) => p.role !== "owner" && p.id !== coach)
          .map(({ id, name, role }) => (
            <Checkbox
              key={id}
              checked={others.includes(id)}
              onChange={(e) =>
                setOthers(e.target.checked ? [...others, id] : others.filter((o) => o !== id))
              }
            >
              {name}, {ROLES[role].toLowerCase()}
            </Checkbox>
          ))}
        <p className="quiet">Owners see every player.</p>
      </fieldset>
      <FormTrouble error={save.error} />
      <div className="device-acts">
        <Button type="primary" htmlType="submit" loading={save.isPending} disabled={!coach}>
          Save
        </Button>
        <Button onClick={done}>Leave it</Button>
      </div>
    </form>
  );
}
