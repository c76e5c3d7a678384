// How a conclusion was worked out, in a sheet at the side, and the way to it.

import { Drawer } from "antd";
import { useState } from "react";
import type { Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { said } from "./Said";
import css from "./Working.module.css";

interface Props {
  sentence: Schemas["Sentence"];
  working: Schemas["Working"];
  words: Words;
  open: boolean;
  close: () => void;
}

export function Working({ sentence, working, words, open, close }: Props) {
  const { inputs, formula, rules, results, sources } = working;
  return (
    <Drawer
      destroyOnHidden
      open={open}
      onClose={close}
      title="Working"
      size={520}
      styles={{ body: { padding: 0, overflow: "hidden" } }}
    >
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: long text must scroll by keyboard */}
      <section className={`sheet ${css.working}`} aria-label="How it was worked out" tabIndex={0}>
        <p className={css.workingVerdict}>{said(sentence, words)}</p>
        <Rows title="What it came to" rows={results} words={words} />
        <Rows title="What went in" rows={inputs} words={words} />
        <Rows title="House rules used" rows={rules} words={words} />
        <h3>How</h3>
        {formula.map((part) => {
          const text = said(part, words);
          return <p key={text}>{text}</p>;
        })}
        <h3>Sources</h3>
        {sources.map((source) => (
          <p key={source} className="quiet">
            {source}
          </p>
        ))}
      </section>
    </Drawer>
  );
}

function Rows(props: { title: string; rows: Schemas["WorkingRow"][]; words: Words }) {
  if (props.rows.length === 0) return null;
  return (
    <>
      <h3>{props.title}</h3>
      <dl className={css.workingRows}>
        {props.rows.map((row) => (
          <div key={row.label}>
            <dt>{row.label}</dt>
            <dd>{said(row.value, props.words)}</dd>
          </div>
        ))}
      </dl>
    </>
  );
}

/** A link that opens the working. */
export function WorkingLink(props: Pick<Props, "sentence" | "working" | "words">) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button type="button" className="link" onClick={() => setOpen(true)}>
        Working
      </button>
      <Working {...props} open={open} close={() => setOpen(false)} />
    </>
  );
}
