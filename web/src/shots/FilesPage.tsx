// Files: shots from anywhere in, shots and the whole school out.

import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiError, type Problem } from "../app/api";
import { noted } from "../app/position";
import { useWords } from "../app/vocabulary";
import { FormTrouble } from "../ui/FormTrouble";
import { Loading } from "../ui/Notice";
import { SchoolHead } from "../ui/SchoolHead";
import { ExportForm } from "./ExportForm";
import css from "./FilesPage.module.css";
import { ImportForm } from "./ImportForm";
import { ImportList } from "./ImportList";
import shotsCss from "./shots.module.css";

export function FilesPage() {
  const words = useWords();
  if (!words) return <Loading />;
  return (
    <div className="page files">
      <SchoolHead />
      <h1>Files</h1>
      <h2>Bring shots in</h2>
      <ImportForm words={words} />
      <ImportList />
      <h2>Take shots out</h2>
      <ExportForm words={words} />
      <h2>The whole school</h2>
      <Archive />
    </div>
  );
}

function Archive() {
  const [state, setState] = useState<"none" | "sending" | "done">("none");
  const [error, setError] = useState<Error | null>(null);
  const queries = useQueryClient();
  const send = async (file: File) => {
    setState("sending");
    setError(null);
    try {
      const answer = noted(await fetch("/api/v1/school/archive", { method: "PUT", body: file }));
      if (!answer.ok) {
        const problem = (await answer.json()) as Problem;
        throw new ApiError(problem.detail, problem.errors, answer.status);
      }
      setState("done");
      queries.invalidateQueries();
    } catch (refused) {
      setState("none");
      setError(refused instanceof Error ? refused : new Error(String(refused)));
    }
  };
  return (
    <div className="archive">
      <p>
        Everything as one JSON archive, without the devices’ secrets. It goes back into an empty
        school and comes out the same.
      </p>
      <p className={css.archiveActs}>
        <a className={shotsCss.actLink} href="/api/v1/school/archive" download>
          Download the archive
        </a>
        <label className={shotsCss.actLink}>
          {state === "sending" ? "Bringing it in…" : "Bring an archive into this empty school"}
          <input
            className="sr-only"
            type="file"
            accept=".json,application/json"
            disabled={state === "sending"}
            onChange={(e) => {
              const file = e.target.files?.[0];
              if (file) void send(file);
              e.target.value = "";
            }}
          />
        </label>
      </p>
      {state === "done" && <p role="status">The school is here, whole.</p>}
      <FormTrouble error={error} />
    </div>
  );
}
