// How a verdict was worked out, in a sheet at the side.

import { Drawer } from "antd";
import type { Schemas } from "../app/api";
import type { Words } from "../app/vocabulary";
import { said } from "./Said";

interface Props {
  verdict: Schemas["Verdict"];
  words: Words;
  open: boolean;
  close: () => void;
}

export function Working({ verdict, words, open, close }: Props) {
  const { inputs, formula, rules, results, sources } = verdict.working;
  return (
    <Drawer destroyOnHidden open={open} onClose={close} title="Working" size={520}>
      <div className="sheet">
        <p className="working-verdict">{said(verdict.sentence, words)}</p>
        <Rows title="What it came to" rows={results} words={words} />
        <Rows title="What went in" rows={inputs} words={words} />
        <Rows title="House rules used" rows={rules} words={words} />
        <h3>How</h3>
        {formula.map((sentence) => {
          const text = said(sentence, words);
          return <p key={text}>{text}</p>;
        })}
        <h3>Sources</h3>
        {sources.map((source) => (
          <p key={source} className="quiet">
            {source}
          </p>
        ))}
      </div>
    </Drawer>
  );
}

function Rows(props: { title: string; rows: Schemas["WorkingRow"][]; words: Words }) {
  if (props.rows.length === 0) return null;
  return (
    <>
      <h3>{props.title}</h3>
      <dl className="working-rows">
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
