// How far an import is, and what became of it.

import { useQuery } from "@tanstack/react-query";
import { Button, Progress } from "antd";
import { useEffect } from "react";
import { answered, api, type Schemas } from "../app/api";
import { keys } from "../app/keys";
import { LOCALE } from "../app/local";
import css from "./ImportForm.module.css";
import { Troubles } from "./PreviewTable";

/** How far an import is, and the way to stop it. */
export function ImportRunning({ id, size }: { id: string; size: number }) {
  const told = useQuery({
    queryKey: keys.anImport(id),
    queryFn: () =>
      answered(api.GET("/api/v1/imports/{import}", { params: { path: { import: id } } })),
    refetchInterval: 300,
    retry: false,
  });
  const percent = told.data ? Math.min(100, (100 * told.data.bytes_done) / size) : 0;
  return (
    <>
      <Progress
        percent={Math.round(percent)}
        size={{ height: 10 }}
        style={{ width: 240 }}
        aria-label="How much was read"
      />
      <span>{told.data?.rows_good.toLocaleString(LOCALE) ?? 0} rows</span>
      <Button
        onClick={() =>
          void api.POST("/api/v1/imports/{import}/cancel", { params: { path: { import: id } } })
        }
      >
        Cancel
      </Button>
    </>
  );
}

interface Props {
  result: Schemas["ImportView"];
  /** Whose, where there are several. */
  player?: string;
}

/** What became of an import. */
export function ImportResult({ result, player }: Props) {
  const good = result.rows_good.toLocaleString(LOCALE);
  const bad = result.rows_bad.toLocaleString(LOCALE);
  useEffect(() => {
    document.querySelector(".import-result")?.scrollIntoView({ block: "nearest" });
  }, []);
  return (
    <div className={css.importResult} role="status">
      <h3>
        {player && `${player}: `}
        {result.state !== "done"
          ? `${capital(result.message)}.`
          : result.rows_good === 1
            ? "1 shot is in."
            : `${good} shots are in.`}
      </h3>
      {result.state === "done" && result.rows_known > 0 && (
        <p>
          {result.rows_known.toLocaleString(LOCALE)}{" "}
          {result.rows_known === 1 ? "shot was" : "shots were"} in already and did not go in twice.
        </p>
      )}
      {result.remarks.map((remark) => (
        <p key={remark}>{remark}</p>
      ))}
      {result.rows_bad > 0 && (
        <p>
          {bad} {result.rows_bad === 1 ? "row was" : "rows were"} not used.{" "}
          <a href={`/api/v1/imports/${result.id}/bad-rows.csv`} download>
            Download the bad rows
          </a>
        </p>
      )}
      <Troubles troubles={result.troubles} />
    </div>
  );
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}
