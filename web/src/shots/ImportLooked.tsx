// A file as it will be stored: what it does not tell is answered, its columns are put right,
// and it is brought in, for one player or for each of several.

import { useQueryClient } from "@tanstack/react-query";
import { Button, Input, Radio, Select } from "antd";
import { useState } from "react";
import { v7 as uuid } from "uuid";
import { answered, api, type Schemas } from "../app/api";
import { usePlayers } from "../app/asked";
import { ZONE } from "../app/local";
import type { Words } from "../app/vocabulary";
import { DayField } from "../ui/DayField";
import { FormTrouble } from "../ui/FormTrouble";
import { ColumnTable } from "./ColumnTable";
import css from "./ImportForm.module.css";
import { ImportPlayers, type Whose } from "./ImportPlayers";
import { ImportQuestions } from "./ImportQuestions";
import { ImportResult, ImportRunning } from "./ImportResult";
import { PreviewTable } from "./PreviewTable";
import { post } from "./post";
import shotsCss from "./shots.module.css";

type Layout = Schemas["Layout"];

interface Props {
  file: File;
  preview: Schemas["Preview"];
  change: (layout: Layout) => void;
  words: Words;
  /** What goes on to the file after this one. */
  next: string;
  done: () => void;
}

export function ImportLooked({ file, preview, change, words, next, done }: Props) {
  const { looked } = preview;
  const { layout } = looked;
  const players = usePlayers();
  const [player, setPlayer] = useState<string>();
  const [whose, setWhose] = useState<Whose>({});
  const [club, setClub] = useState<string>();
  const [purpose, setPurpose] = useState<string>();
  const [place, setPlace] = useState("From a file");
  const [day, setDay] = useState("");
  const [allOrNothing, setAllOrNothing] = useState(false);
  const [running, setRunning] = useState<string>();
  const [results, setResults] = useState<Schemas["ImportView"][]>([]);
  const [error, setError] = useState<Error | null>(null);
  const queries = useQueryClient();
  const holds = (is: string) => layout.columns.some((column) => column.is === is);
  const several = looked.players.length > 1;
  const open = looked.questions.filter((q) => q.open && q.key !== "players").length;

  /** Whose rows go to whom; new players are added first. */
  const parts = async (): Promise<[string | undefined, string][]> => {
    if (!several) return [[undefined, player ?? ""]];
    const found: [string, string][] = [];
    for (const { name } of looked.players) {
      const chosen = whose[name];
      if (chosen === undefined) throw new Error(`Say whose the rows of “${name}” are.`);
      if (chosen === "none") continue;
      if (chosen !== "new") {
        found.push([name, chosen]);
        continue;
      }
      const id = uuid();
      await answered(api.POST("/api/v1/players", { body: { id, name, aim: "" } }));
      setWhose((now) => ({ ...now, [name]: id }));
      found.push([name, id]);
    }
    if (found.length === 0) throw new Error("All rows are left out: choose a player for some.");
    return found;
  };
  const bring = async () => {
    setError(null);
    setResults([]);
    try {
      if (!several && !player) throw new Error("Choose whose shots these are.");
      if (!holds("club") && !club) throw new Error("Choose the club; the file names none.");
      if (!holds("date") && !day) throw new Error("Choose the day; the file names none.");
      for (const [only, whom] of await parts()) {
        const id = uuid();
        setRunning(id);
        const query = new URLSearchParams({
          id,
          player: whom,
          file_name: file.name,
          layout: JSON.stringify(only === undefined ? layout : { ...layout, only }),
          all_or_nothing: String(allOrNothing),
          purpose: purpose ?? preview.purpose,
          place,
          zone: ZONE,
          day: day || new Date().toLocaleDateString("sv-SE"),
          club: club ?? "driver",
        });
        const result = await post<Schemas["ImportView"]>(`/api/v1/imports?${query}`, file);
        setResults((before) => [...before, result]);
      }
    } catch (refused) {
      setError(refused instanceof Error ? refused : new Error(String(refused)));
    }
    queries.invalidateQueries();
    setRunning(undefined);
  };
  return (
    <>
      {preview.like && (
        <p className={css.remark}>
          It has the columns of “{preview.like}” and is read as that was.
        </p>
      )}
      <ImportQuestions questions={looked.questions} layout={layout} change={change} words={words} />
      {looked.remarks.length > 0 && (
        <ul className={css.remarks}>
          {looked.remarks.map((remark) => (
            <li key={remark}>{remark}</li>
          ))}
        </ul>
      )}
      <ColumnTable looked={looked} change={change} words={words} />
      {/* What is still asked may mend it. */}
      {preview.refused && !looked.questions.some((question) => question.open) && (
        <p className="form-trouble" role="alert">
          {preview.refused.field} {preview.refused.problem}: {preview.refused.remedy}.
        </p>
      )}
      <PreviewTable rows={preview.rows} layout={layout} words={words} />
      {several && <ImportPlayers players={looked.players} whose={whose} change={setWhose} />}
      <div className={`${css.fileForm} ${shotsCss.fileForm}`}>
        {!several && (
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
        )}
        {!holds("club") && (
          <div>
            <label htmlFor="import-club">Club</label>
            <Select
              id="import-club"
              value={club}
              onChange={setClub}
              placeholder="choose the club"
              options={words.vocabulary.clubs.map((c) => ({ value: c.key, label: c.label }))}
            />
          </div>
        )}
        {!holds("date") && (
          <label>
            Day
            <DayField value={day} onChange={setDay} />
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
          disabled={preview.refused != null || open > 0}
          onClick={() => void bring()}
        >
          Bring in
        </Button>
        {open > 0 && (
          <span className="quiet">
            {open === 1 ? "One question is open above." : `${open} questions are open above.`}
          </span>
        )}
        {running && <ImportRunning id={running} size={file.size} />}
      </div>
      {results.map((result) => (
        <ImportResult
          key={result.id}
          result={result}
          player={several ? players.data?.find((p) => p.id === result.player)?.name : undefined}
        />
      ))}
      {results.some((r) => r.state === "done" || r.state === "known") && !running && (
        <Button onClick={done}>{next}</Button>
      )}
    </>
  );
}
