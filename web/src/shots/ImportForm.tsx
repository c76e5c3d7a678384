// Files of shots: chosen or dropped, one after the other looked at, put right, and brought in.

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../app/api";
import { keys } from "../app/keys";
import type { Words } from "../app/vocabulary";
import { FormTrouble } from "../ui/FormTrouble";
import css from "./ImportForm.module.css";
import { ImportLooked } from "./ImportLooked";
import { post } from "./post";
import shotsCss from "./shots.module.css";

type Layout = Schemas["Layout"];

/** How much of a file is looked at before it is brought in, bytes. */
const HEAD = 256 * 1024;

/** What is looked at of a file: the beginning of a text, a workbook and JSON whole. */
async function headOf(file: File): Promise<Blob> {
  const begins = new Uint8Array(await file.slice(0, 4).arrayBuffer());
  const [first, second] = [begins[0], begins[1]];
  const workbook = (first === 0x50 && second === 0x4b) || (first === 0xd0 && second === 0xcf);
  const json = first === 0x7b || first === 0x5b;
  return workbook || json ? file : file.slice(0, HEAD);
}

export function ImportForm({ words }: { words: Words }) {
  const [files, setFiles] = useState<File[]>([]);
  const [over, setOver] = useState(false);
  const [file, ...waiting] = files;
  const add = (more: FileList | null) => {
    // Its own list: the field's is emptied at once, so that the same file can be chosen again.
    const chosen = [...(more ?? [])];
    setFiles((now) => [...now, ...chosen]);
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the field within takes files as well
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
        add(event.dataTransfer.files);
      }}
    >
      <label className={shotsCss.actLink}>
        {file ? "Choose more files" : "Choose files"}
        <input
          className="sr-only"
          type="file"
          multiple
          accept=".csv,.txt,.tsv,.xlsx,.xlsb,.xls,.ods,.json,.ndjson,.jsonl,text/csv"
          onChange={(e) => {
            add(e.target.files);
            e.target.value = "";
          }}
        />
      </label>
      {!file && (
        <p className="quiet">
          From any device or spreadsheet: CSV, a workbook, or JSON, with a row or a column for each
          shot. Choose files, or drop them here. What a file does not tell is asked before anything
          is stored.{" "}
          <a className="link" href="/sample-shots.csv" download>
            A file to try it with
          </a>
        </p>
      )}
      {file && (
        <OneFile
          key={`${file.name} ${file.size} ${waiting.length}`}
          file={file}
          waiting={waiting.length}
          words={words}
          done={() => setFiles(waiting)}
        />
      )}
    </div>
  );
}

interface OneFileProps {
  file: File;
  /** Files that come after it. */
  waiting: number;
  words: Words;
  done: () => void;
}

function OneFile({ file, waiting, words, done }: OneFileProps) {
  const [layout, setLayout] = useState<Layout>();
  const look = useQuery({
    queryKey: keys.importPreview(file, layout),
    queryFn: async () => {
      const query = layout ? `?layout=${encodeURIComponent(JSON.stringify(layout))}` : "";
      return post<Schemas["Preview"]>(`/api/v1/import-previews${query}`, await headOf(file));
    },
    placeholderData: (before) => before,
    retry: false,
  });
  return (
    <>
      <h3 className={css.name}>
        {file.name}
        {waiting > 0 && (
          <small>
            {waiting} more {waiting === 1 ? "file waits" : "files wait"}
          </small>
        )}
        <button type="button" className={css.leave} onClick={done}>
          Leave this file
        </button>
      </h3>
      <FormTrouble error={look.error} />
      {look.data && (
        <ImportLooked
          file={file}
          preview={look.data}
          change={setLayout}
          words={words}
          next={waiting > 0 ? "Next file" : "Another file"}
          done={done}
        />
      )}
    </>
  );
}
