// The files that were brought in, with what became of each.

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Modal } from "antd";
import { useState } from "react";
import { answered, api, type Schemas } from "../app/api";
import { usePlayers } from "../app/asked";
import { keys } from "../app/keys";
import { LOCALE, ZONE } from "../app/local";
import { day } from "../ui/day";
import { FormTrouble } from "../ui/FormTrouble";
import css from "./ImportList.module.css";
import shotsCss from "./shots.module.css";

type Import = Schemas["ImportView"];

const STATES: Record<string, string> = {
  running: "under way",
  cancelling: "stopping",
  done: "in",
  cancelled: "cancelled",
  refused: "not taken",
  known: "known already",
  failed: "failed",
  undone: "taken out again",
};

export function ImportList() {
  const found = useQuery({
    queryKey: keys.imports,
    queryFn: () => answered(api.GET("/api/v1/imports")),
  });
  const players = usePlayers();
  const [undoing, setUndoing] = useState<Import>();
  const queries = useQueryClient();
  const undo = useMutation({
    mutationFn: (id: string) =>
      answered(api.DELETE("/api/v1/imports/{import}", { params: { path: { import: id } } })),
    onSuccess: () => {
      setUndoing(undefined);
      queries.invalidateQueries();
    },
  });
  if (!found.data || found.data.length === 0) return null;
  const zone = ZONE;
  return (
    <>
      <h3>Brought in so far</h3>
      <ul className={`rows ${css.imports}`}>
        {found.data.map((i) => (
          <li key={i.id}>
            <div>
              <b>{i.file_name}</b>
              <small>
                {players.data?.find((p) => p.id === i.player)?.name} · {day(i.started_at, zone)}
              </small>
            </div>
            <div>
              {i.state === "done" ? `${i.rows_good.toLocaleString(LOCALE)} shots` : STATES[i.state]}
              {i.rows_bad > 0 && `, ${i.rows_bad.toLocaleString(LOCALE)} rows not used`}
              {i.message && <small>{i.message}</small>}
            </div>
            <div className="device-acts">
              {i.rows_bad > 0 && (
                <a
                  className={shotsCss.actLink}
                  href={`/api/v1/imports/${i.id}/bad-rows.csv`}
                  download
                >
                  Bad rows
                </a>
              )}
              {i.state === "done" && <Button onClick={() => setUndoing(i)}>Undo</Button>}
            </div>
          </li>
        ))}
      </ul>
      <Modal
        open={undoing !== undefined}
        onCancel={() => setUndoing(undefined)}
        title={`Take ${undoing?.file_name} out again?`}
        footer={null}
      >
        <p>
          Its {undoing?.rows_good.toLocaleString(LOCALE)} shots go, with all that was marked on them
          since.
        </p>
        <FormTrouble error={undo.error} />
        <div className="plan-foot">
          <Button
            type="primary"
            loading={undo.isPending}
            onClick={() => undoing && undo.mutate(undoing.id)}
          >
            Take them out
          </Button>
          <Button onClick={() => setUndoing(undefined)}>Leave them</Button>
        </div>
      </Modal>
    </>
  );
}
