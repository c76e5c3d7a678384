// A file of shots: looked at, its columns put right, seen as it will be stored, brought
// in with progress, cancelled.

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Progress, Radio, Select } from "antd";
import { useEffect, useState } from "react";
import { v7 as uuid } from "uuid";
import { ApiError, answered, api, type Problem, type Schemas } from "../app/api";
import { usePlayers } from "../app/asked";
import { keys } from "../app/keys";
import { LOCALE, ZONE } from "../app/local";
import type { Words } from "../app/vocabulary";
import { DayField } from "../ui/DayField";
import { FormTrouble } from "../ui/FormTrouble";
import { ColumnTable } from "./ColumnTable";
import css from "./ImportForm.module.css";
import { PreviewTable, Troubles } from "./PreviewTable";
import shotsCss from "./shots.module.css";

type Layout = Schemas["Layout"];

/** How much of a file is looked at before it is brought in, bytes. */
const HEAD = 256 * 1024;

async function post<T>(path: string, body: Blob): Promise<T> {
  let answer: Response;
  try {
    answer = await fetch(path, {
      method: "POST",
      body,
      headers: { "content-type": "application/octet-stream" },
    });
  } catch {
    throw new ApiError("The server cannot be reached. Nothing was added; try again.");
  }
  if (answer.ok) return (await answer.json()) as T;
  const problem = (await answer.json().catch(() => ({}))) as Partial<Problem>;
  throw new ApiError(
    problem.detail ?? `The server answered ${answer.status}.`,
    problem.errors ?? [],
    answer.status,
  );
}

export function ImportForm({ words }: { words: Words }) {
  const [file, setFile] = useState<File>();
  const [layout, setLayout] = useState<Layout>();
  const [error, setError] = useState<Error | null>(null);
  const look = useQuery({
    queryKey: keys.importPreview(file, layout),
    queryFn: () => {
      const query = layout ? `?layout=${encodeURIComponent(JSON.stringify(layout))}` : "";
      return post<Schemas["Preview"]>(
        `/api/v1/import-previews${query}`,
        (file as File).slice(0, HEAD),
      );
    },
    enabled: file !== undefined,
    placeholderData: (before) => before,
    retry: false,
  });
  const choose = (chosen: File | undefined) => {
    setFile(chosen);
    setLayout(undefined);
    setError(null);
  };
  const [over, setOver] = useState(false);
  const [dropped, setDropped] = useState(1);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the field within takes a file as well
    <div
      className={over ? `${css.import} ${css.over}` : css.import}
      onDragOver={(event) => {
        if (!event.dataTransfer.types.includes("Files")) return;
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={(event) => {
        if (!event.currentTarget.contains(event.relatedTarget as Node | null)) setOver(false);
      }}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        setDropped(event.dataTransfer.files.length);
        const [first] = event.dataTransfer.files;
        if (first) choose(first);
      }}
    >
      <label className={shotsCss.actLink}>
        {file ? `${file.name}, choose another` : "Choose a CSV file"}
        <input
          className="sr-only"
          type="file"
          accept=".csv,.txt,.tsv,text/csv"
          onChange={(e) => {
            choose(e.target.files?.[0]);
            e.target.value = "";
          }}
        />
      </label>
      {!file && (
        <p className="quiet">
          From any device or spreadsheet: a row for each shot. Choose it, or drop it here. Columns
          and units are guessed and can be put right before anything is stored.{" "}
          <a className="link" href="/sample-shots.csv" download>
            A file to try it with
          </a>
        </p>
      )}
      {file && dropped > 1 && (
        <p className={css.remark}>
          {dropped} files were dropped: this is the first, bring the others in after it.
        </p>
      )}
      <FormTrouble error={look.error ?? error} />
      {file && look.data && (
        <Looked
          key={`${file.name}${file.size}`}
          file={file}
          preview={look.data}
          layout={layout ?? look.data.guess.layout}
          change={setLayout}
          words={words}
          done={() => choose(undefined)}
        />
      )}
    </div>
  );
}

interface LookedProps {
  file: File;
  preview: Schemas["Preview"];
  layout: Layout;
  change: (layout: Layout) => void;
  words: Words;
  done: () => void;
}

function Looked({ file, preview, layout, change, words, done }: LookedProps) {
  const players = usePlayers();
  const [player, setPlayer] = useState<string>();
  const [club, setClub] = useState("driver");
  const [purpose, setPurpose] = useState<string>();
  const [place, setPlace] = useState("From a file");
  const [today] = useState(() => new Date().toLocaleDateString("sv-SE"));
  const [day, setDay] = useState(today);
  const [allOrNothing, setAllOrNothing] = useState(false);
  const [running, setRunning] = useState<string>();
  const [result, setResult] = useState<Schemas["ImportView"]>();
  const [error, setError] = useState<Error | null>(null);
  const queries = useQueryClient();
  const hasDay = layout.columns.some((column) => column.is === "date");
  const hasClub = layout.columns.some((column) => column.is === "club");
  const bring = async () => {
    if (!player) {
      setError(new Error("Choose whose shots these are."));
      return;
    }
    const id = uuid();
    setError(null);
    setResult(undefined);
    setRunning(id);
    const query = new URLSearchParams({
      id,
      player,
      file_name: file.name,
      layout: JSON.stringify(layout),
      all_or_nothing: String(allOrNothing),
      purpose: purpose ?? preview.purpose,
      place,
      zone: ZONE,
      day,
      club,
    });
    try {
      setResult(await post<Schemas["ImportView"]>(`/api/v1/imports?${query}`, file));
      queries.invalidateQueries();
    } catch (refused) {
      setError(refused instanceof Error ? refused : new Error(String(refused)));
    }
    setRunning(undefined);
  };
  return (
    <>
      {preview.guess.remarks.map((remark) => (
        <p key={remark} className={css.remark}>
          {remark}
        </p>
      ))}
      <ColumnTable guess={preview.guess} layout={layout} change={change} words={words} />
      {preview.refused && (
        <p className="form-trouble" role="alert">
          {preview.refused.field} {preview.refused.problem}: {preview.refused.remedy}.
        </p>
      )}
      <PreviewTable rows={preview.rows} layout={layout} words={words} />
      <div className={`${css.fileForm} ${shotsCss.fileForm}`}>
        <div>
          <label htmlFor="import-player">Whose shots</label>
          <Select
            id="import-player"
            value={player}
            onChange={setPlayer}
            placeholder="choose a player"
            options={players.data?.map((p) => ({ value: p.id, label: p.name }))}
          />
        </div>
        {!hasClub && (
          <div>
            <label htmlFor="import-club">Club</label>
            <Select
              id="import-club"
              value={club}
              onChange={setClub}
              options={words.vocabulary.clubs.map((c) => ({ value: c.key, label: c.label }))}
            />
          </div>
        )}
        {!hasDay && (
          <label>
            Day
            <DayField value={day} onChange={(day) => setDay(day || today)} />
          </label>
        )}
        <div>
          <label htmlFor="import-purpose">What they were hit for</label>
          <Select
            id="import-purpose"
            value={purpose ?? preview.purpose}
            onChange={setPurpose}
            options={words.vocabulary.purposes.map((p) => ({ value: p.key, label: p.label }))}
          />
        </div>
        <label>
          Place of these shots
          <Input value={place} onChange={(e) => setPlace(e.target.value)} />
        </label>
        <div>
          <label htmlFor="import-from">Values of this file were</label>
          <Select
            id="import-from"
            value={layout.provenance}
            onChange={(provenance) => change({ ...layout, provenance })}
            options={[
              { value: "measured", label: "measured" },
              { value: "calculated", label: "calculated by the device" },
              { value: "entered", label: "entered by hand" },
            ]}
          />
        </div>
      </div>
      <Radio.Group
        value={allOrNothing}
        onChange={(e) => setAllOrNothing(e.target.value as boolean)}
        options={[
          { value: false, label: "Bring in the good rows, keep the bad ones to download" },
          { value: true, label: "Bring in nothing if one row is bad" },
        ]}
      />
      <FormTrouble error={error} />
      <div className="plan-foot">
        <Button
          type="primary"
          loading={running !== undefined}
          disabled={preview.refused != null}
          onClick={() => void bring()}
        >
          Bring in
        </Button>
        {running && <Running id={running} size={file.size} />}
      </div>
      {result && <Result result={result} done={done} />}
    </>
  );
}

/** How far an import is, and the way to stop it. */
function Running({ id, size }: { id: string; size: number }) {
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

function Result({ result, done }: { result: Schemas["ImportView"]; done: () => void }) {
  const good = result.rows_good.toLocaleString(LOCALE);
  const bad = result.rows_bad.toLocaleString(LOCALE);
  useEffect(() => {
    document.querySelector(".import-result")?.scrollIntoView({ block: "nearest" });
  }, []);
  return (
    <div className={css.importResult} role="status">
      <h3>{result.state === "done" ? `${good} shots are in.` : `${capital(result.message)}.`}</h3>
      {result.rows_bad > 0 && (
        <p>
          {bad} {result.rows_bad === 1 ? "row was" : "rows were"} not used.{" "}
          <a href={`/api/v1/imports/${result.id}/bad-rows.csv`} download>
            Download the bad rows
          </a>
        </p>
      )}
      <Troubles troubles={result.troubles} />
      {result.state === "done" && <Button onClick={done}>Another file</Button>}
    </div>
  );
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}
