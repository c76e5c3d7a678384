// Every trace of a force session: brought in from a table, looked at, and marked by hand.

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Radio } from "antd";
import { type MouseEvent, useId, useState } from "react";
import { answered, api, type Schemas } from "../app/api";
import { useMe } from "../app/asked";
import { keys } from "../app/keys";
import { FormTrouble } from "../ui/FormTrouble";
import css from "./TraceMarks.module.css";

type Row = Schemas["TraceRow"];
type View = Schemas["TraceView"];
type Mark = "impact" | "lead_arm_level" | "shaft_level" | "shaft_upright";

const MARKS: [Mark, string][] = [
  ["impact", "Impact"],
  ["lead_arm_level", "Lead arm level"],
  ["shaft_level", "Shaft level"],
  ["shaft_upright", "Shaft upright"],
];
const NAMES: Record<string, string> = {
  lead: "lead foot",
  trail: "trail foot",
  both: "both feet",
  torque: "torque",
};
const [WIDTH, HEIGHT, FOOT] = [640, 220, 28];

export default function TraceMarks({ session, rows }: { session: string; rows: Row[] }) {
  const me = useMe();
  const [chosen, setChosen] = useState<string>();
  const unmarked = rows.filter((row) => !row.marked);
  const shown = rows.find((row) => row.shot === chosen);
  return (
    <details className={css.marks} open={rows.length === 0 || unmarked.length > 0}>
      <summary>Every trace: look, mark, bring in</summary>
      {rows.length === 0 && (
        <p className="quiet">
          No trace yet: a force plate sends them by the device line, or bring in a table.
        </p>
      )}
      {unmarked.length > 0 && (
        <p>
          {unmarked.length === 1 ? "One has" : `${unmarked.length} have`} no mark of impact: choose
          it, and touch the picture where the ball was hit.
        </p>
      )}
      <ul className={css.rows}>
        {rows.map((row) => (
          <li key={row.shot}>
            <button
              type="button"
              className={row.marked ? undefined : css.open}
              aria-pressed={row.shot === chosen}
              onClick={() => setChosen(row.shot === chosen ? undefined : row.shot)}
            >
              <b>{row.number}</b> {row.block}
              {!row.marked && <small> no impact</small>}
            </button>
          </li>
        ))}
      </ul>
      {shown && (
        <MarkTrace
          key={shown.shot}
          session={session}
          row={shown}
          saved={() => setChosen(unmarked.find((row) => row.shot !== shown.shot)?.shot)}
        />
      )}
      {rows.length > 0 && me.data?.role !== "assistant" && (
        <a href={`/api/v1/sessions/${session}/traces.csv`} download>
          Download them as a table
        </a>
      )}
      <BringTraces session={session} />
    </details>
  );
}

/** A table of traces from a file. */
function BringTraces({ session }: { session: string }) {
  const id = useId();
  const client = useQueryClient();
  const bring = useMutation({
    mutationFn: async (file: File) => {
      const body = await file.text();
      return answered(
        api.POST("/api/v1/sessions/{session}/traces", {
          params: { path: { session } },
          body,
          bodySerializer: (text) => text,
          headers: { "Content-Type": "text/csv" },
        }),
      );
    },
    onSuccess: () => client.invalidateQueries({ queryKey: keys.session.traces(session) }),
  });
  const told = bring.data;
  return (
    <div className={css.bring}>
      <label htmlFor={id}>Bring traces in from a table</label>
      <input
        id={id}
        type="file"
        accept=".csv,text/csv"
        disabled={bring.isPending}
        onChange={(e) => {
          const file = e.target.files?.[0];
          if (file) bring.mutate(file);
          e.target.value = "";
        }}
      />
      <p className="quiet">
        CSV, a row for each sample: shot (its number here), time_ms or time_s, and any of
        lead_pct_bw, trail_pct_bw, both_pct_bw, or _n, _kg, _lb, and torque_nm; impact_s where it is
        known.
      </p>
      <FormTrouble error={bring.error} />
      {told && (
        <div role="status">
          <p>
            {told.kept === 1 ? "One trace is kept." : `${told.kept} traces are kept.`}
            {told.refused.length > 0 && " Not these:"}
          </p>
          {told.refused.length > 0 && (
            <ul className={css.refused}>
              {told.refused.map((why) => (
                <li key={`${why.field} ${why.value}`}>
                  <b>{why.field}</b> {why.value && `“${why.value}” `}
                  {why.problem}: {why.remedy}.
                </li>
              ))}
            </ul>
          )}
        </div>
      )}
    </div>
  );
}

function MarkTrace(props: { session: string; row: Row; saved: () => void }) {
  const { session, row, saved } = props;
  const client = useQueryClient();
  const path = { session, shot: row.shot };
  const found = useQuery({
    queryKey: keys.session.trace(session, row.shot),
    queryFn: () =>
      answered(api.GET("/api/v1/sessions/{session}/traces/{shot}", { params: { path } })),
  });
  const [which, setWhich] = useState<Mark>("impact");
  // What is typed or touched, in ms from the first sample, over what is kept.
  const [typed, setTyped] = useState<Partial<Record<Mark, string>>>({});
  const save = useMutation({
    mutationFn: (body: Schemas["Marks"]) =>
      answered(
        api.PUT("/api/v1/sessions/{session}/traces/{shot}/marks", { params: { path }, body }),
      ),
    onSuccess: () => {
      client.invalidateQueries({ queryKey: keys.session.traces(session) });
      setTyped({});
      saved();
    },
  });
  const view = found.data;
  if (!view) return found.isError ? <FormTrouble error={found.error} /> : null;
  const kept = (mark: Mark) =>
    mark === "impact" ? view.marks.impact_s : view.marks.checkpoints?.[mark];
  const text = (mark: Mark) => {
    const at = kept(mark);
    return typed[mark] ?? (at == null ? "" : String(Math.round(1000 * at)));
  };
  const ms = (mark: Mark) => {
    const value = Number(text(mark).replace(",", ".") || "none");
    return Number.isFinite(value) ? value / 1000 : undefined;
  };
  const wrong = MARKS.filter(([mark]) => text(mark).trim() && ms(mark) === undefined);
  const marks = (): Schemas["Marks"] => ({
    impact_s: ms("impact") ?? null,
    checkpoints: Object.fromEntries(
      MARKS.slice(1).flatMap(([mark]) => {
        const at = ms(mark);
        return at === undefined ? [] : [[mark, at]];
      }),
    ),
  });
  return (
    <div className={css.mark}>
      <Radio.Group
        aria-label="Mark"
        value={which}
        onChange={(e) => setWhich(e.target.value)}
        options={MARKS.map(([value, label]) => ({ value, label }))}
      />
      <Touched
        view={view}
        at={MARKS.map(([mark, label]) => ({ label, s: ms(mark), now: mark === which }))}
        touch={(s) => setTyped({ ...typed, [which]: String(Math.round(1000 * s)) })}
        label={`Trace of shot ${row.number}`}
      />
      <div className={css.fields}>
        {MARKS.map(([mark, label]) => (
          <label key={mark}>
            {label}, ms
            <Input
              value={text(mark)}
              inputMode="decimal"
              status={wrong.some(([odd]) => odd === mark) ? "error" : undefined}
              onFocus={() => setWhich(mark)}
              onChange={(e) => setTyped({ ...typed, [mark]: e.target.value })}
            />
          </label>
        ))}
      </div>
      {wrong.map(([mark, label]) => (
        <p key={mark} className="bad" role="alert">
          {label}: “{text(mark)}” is no number of milliseconds; give one such as 720, or nothing.
        </p>
      ))}
      <FormTrouble error={save.error} />
      <Button
        type="primary"
        loading={save.isPending}
        disabled={wrong.length > 0}
        onClick={() => save.mutate(marks())}
      >
        Keep the marks
      </Button>
    </div>
  );
}

function Touched(props: {
  view: View;
  at: { label: string; s: number | undefined; now: boolean }[];
  touch: (s: number) => void;
  label: string;
}) {
  const { view, at, touch, label } = props;
  const x = (s: number) => (s / view.length_s) * WIDTH;
  const touched = (e: MouseEvent<SVGSVGElement>) => {
    const box = e.currentTarget.getBoundingClientRect();
    touch(((e.clientX - box.left) / box.width) * view.length_s);
  };
  const channels = Object.entries(view.channels);
  return (
    // The fields beneath do the same by keyboard.
    // biome-ignore lint/a11y/useKeyWithClickEvents: the fields beneath take the same by keyboard
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label={label}
      className={css.picture}
      onClick={touched}
    >
      {channels.map(([channel, values], i) => {
        const [low, high] = [Math.min(...values), Math.max(...values)];
        const y = (value: number) =>
          6 + (1 - (value - low) / (high - low || 1)) * (HEIGHT - FOOT - 12);
        const points = values.map((value, j) => `${x(j * view.every_s)} ${y(value)}`);
        return (
          <g key={channel} className={css[`channel${i % 4}`]}>
            <path d={`M${points.join("L")}`} />
            <text x={8 + 150 * i} y={HEIGHT - 6}>
              {NAMES[channel]}
            </text>
          </g>
        );
      })}
      {at.map(
        ({ label: name, s, now }) =>
          s !== undefined && (
            <g key={name} className={now ? css.now : css.line}>
              <path d={`M${x(s)} 0V${HEIGHT - FOOT}`} />
              <text x={x(s) - 5} y={16} textAnchor="end">
                {name.toLowerCase()}
              </text>
            </g>
          ),
      )}
    </svg>
  );
}
