// A player's own data: taken out as a file, or erased for good.

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Modal } from "antd";
import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";
import { answered, api } from "../../app/api";
import { useMe } from "../../app/asked";
import { keys } from "../../app/keys";
import { FormTrouble } from "../../ui/FormTrouble";

export function TakeOut({ player, name }: { player: string; name: string }) {
  const me = useMe();
  const [open, setOpen] = useState(false);
  if (!me.data?.may_keep) return null;
  return (
    <>
      <h2>Their data</h2>
      <p>
        <a href={`/api/v1/players/${player}/archive`}>All that is kept of {name}, as a file</a>
        {me.data.may_own && (
          <>
            {" · "}
            <button type="button" className="link" onClick={() => setOpen(true)}>
              Erase {name}
            </button>
          </>
        )}
      </p>
      <Erase player={player} name={name} open={open} close={() => setOpen(false)} />
    </>
  );
}

function Erase(props: { player: string; name: string; open: boolean; close: () => void }) {
  const { player, name, open, close } = props;
  const [typed, setTyped] = useState("");
  const queries = useQueryClient();
  const navigate = useNavigate();
  const erase = useMutation({
    mutationFn: () =>
      answered(
        api.POST("/api/v1/players/{player}/erasure", {
          params: { path: { player } },
          body: { name: typed },
        }),
      ),
    // Whatever was read before may tell of them: it is read anew, not shown first.
    onSuccess: () => queries.removeQueries({ type: "inactive" }),
  });
  const report = erase.data;
  const done = () => {
    if (!report) return close();
    queries.removeQueries({ queryKey: keys.player.all(player) });
    queries.invalidateQueries();
    navigate("/players");
  };
  return (
    <Modal
      open={open}
      onCancel={done}
      title={report ? `${report.name} is erased` : `Erase ${name}`}
      footer={null}
    >
      {report ? (
        <>
          <p>This is gone, and cannot be brought back:</p>
          <ul>
            {report.gone.map(({ what, rows }) => (
              <li key={what}>
                {rows} {what}
              </li>
            ))}
          </ul>
          <p className="quiet">Backups made before still hold it: throw them away in their time.</p>
          <Button type="primary" onClick={done}>
            To the players
          </Button>
        </>
      ) : (
        <form
          className="form"
          onSubmit={(event: FormEvent) => {
            event.preventDefault();
            erase.mutate();
          }}
        >
          <p>
            Every session, shot, decision and note of this player goes, for good. Take their data
            out first if they want it.
          </p>
          <label>
            Type {name} to erase
            <Input value={typed} onChange={(e) => setTyped(e.target.value)} autoComplete="off" />
          </label>
          <FormTrouble error={erase.error} />
          <Button htmlType="submit" loading={erase.isPending} disabled={typed.trim() === ""}>
            Erase for good
          </Button>
        </form>
      )}
    </Modal>
  );
}
