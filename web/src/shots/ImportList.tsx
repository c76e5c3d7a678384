// The files that were brought in, with what became of each.

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Modal } from "antd";
import { useState } from "react";
import { answered, api, type Schemas } from "../app/api";
import { usePlayers } from "../app/asked";
import { keys } from "../app/keys";
import { LOCALE, ZONE } from "../app/local";
import { useWords } from "../app/vocabulary";
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

/** What each column of a file became. */
function Became({ import: { columns, remarks } }: { import: Import }) {
  const words = useWords();
  if (!words) return null;
  const said = (use: Schemas["ColumnUse"]) => {
    switch (use.is) {
      case "value":
      case "shots": {
        const { label, dimension } = words.quantity(use.quantity);
        const unit = words.vocabulary.accepted.find(
          (u) => u.suffix === use.unit && u.dimension === dimension,
        );
        return `${label.toLowerCase()}${unit?.symbol ? `, ${unit.symbol}` : ""}`;
      }
      case "from":
        return `how ${words.quantity(use.quantity).label.toLowerCase()} came about`;
      case "unused":
        return "not used";
      default:
        return use.is.replace("_", " ");
    }
  };
  return (
    <details className={css.became}>
      <summary>What its columns became</summary>
      <dl>
        {columns.map(({ name, became }, i) => (
          <div key={i}>
            <dt>{name}</dt>
            <dd>{said(became)}</dd>
          </div>
        ))}
      </dl>
      {remarks.map((remark) => (
        <p key={remark}>{remark}</p>
      ))}
      <p className="quiet">
        To read it another way, undo it and choose the file again: its columns can be put right
        before it goes in.
      </p>
    </details>
  );
}

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
              {i.state !== "done"
                ? STATES[i.state]
                : i.rows_good === 1
                  ? "1 shot"
                  : `${i.rows_good.toLocaleString(LOCALE)} shots`}
              {i.rows_bad > 0 && `, ${i.rows_bad.toLocaleString(LOCALE)} rows not used`}
              {i.rows_known > 0 && `, ${i.rows_known.toLocaleString(LOCALE)} in already`}
              {i.message && <small>{i.message}</small>}
              {i.columns.length > 0 && <Became import={i} />}
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
