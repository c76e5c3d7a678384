// The keys of this page, which can be changed or switched off, and the words of the trade.

import { Checkbox, Input, Modal } from "antd";
import { type KeyboardEvent, useState } from "react";
import { useLocation } from "react-router";
import { FIXED, SHORTCUTS, type Shortcut, useShortcuts, type Where } from "../../app/shortcuts";
import { useWords, type Words } from "../../app/vocabulary";
import css from "./Aids.module.css";

interface Props {
  /** The label that was held, where one was. */
  word?: string | undefined;
  close: () => void;
}

export function KeysAndWords({ word, close }: Props) {
  const words = useWords();
  const { pathname } = useLocation();
  const here = pathname.split("/")[3];
  const pages: Where[] =
    here === "hit"
      ? ["hit", "everywhere"]
      : here === "run"
        ? ["run", "everywhere"]
        : ["everywhere"];
  const told = word && words ? meant(word, words) : [];
  return (
    <Modal
      open
      onCancel={close}
      title={word ? "Words of the trade" : "Keys and words"}
      footer={null}
      width={620}
    >
      {!word && <Keys pages={pages} />}
      {words && <Glossary words={words} first={told} asked={word} />}
    </Modal>
  );
}

function Keys({ pages }: { pages: Where[] }) {
  const { off, switchOff, keyOf, change, changed, reset } = useShortcuts();
  const [changing, setChanging] = useState<Shortcut>();
  const [said, setSaid] = useState("");
  const pressed = (event: KeyboardEvent) => {
    if (!changing || event.key.length !== 1 || event.ctrlKey || event.metaKey || event.altKey)
      return;
    event.preventDefault();
    event.stopPropagation();
    const key = event.key.toLowerCase();
    const fixed = /^[0-9]$/.test(key) && changing.where !== "everywhere";
    const rival = fixed ? undefined : change(changing, key);
    if (fixed) setSaid("Digits are the strike at Hit and the reading in a run: take another key.");
    else if (rival) setSaid(`“${key.toUpperCase()}” is “${rival.label}”: change that one first.`);
    else {
      setSaid(`“${key.toUpperCase()}” is “${changing.label}” now.`);
      setChanging(undefined);
    }
  };
  const name = { everywhere: "On every page", hit: "At Hit", run: "In a run" };
  return (
    <>
      {pages.map((where) => (
        <section key={where}>
          <h2 className={css.section}>{name[where]}</h2>
          <table className={css.keys}>
            <tbody>
              {SHORTCUTS.filter((one) => one.where === where).map((one) => (
                <tr key={one.id}>
                  <td>
                    <button
                      type="button"
                      className="link"
                      aria-label={`Change the key for: ${one.label}`}
                      disabled={off}
                      onClick={() => {
                        setChanging(one);
                        setSaid("");
                      }}
                      onKeyDown={pressed}
                      onBlur={() => setChanging(undefined)}
                    >
                      {changing?.id === one.id ? (
                        "press a key"
                      ) : (
                        <kbd>{keyOf(one).toUpperCase()}</kbd>
                      )}
                    </button>
                  </td>
                  <td>{one.label}</td>
                </tr>
              ))}
              {FIXED[where].map(([keys, label]) => (
                <tr key={keys}>
                  <td>
                    <kbd>{keys}</kbd>
                  </td>
                  <td>{label}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      ))}
      <p role="status">{said}</p>
      <p>
        <Checkbox checked={!off} onChange={(event) => switchOff(!event.target.checked)}>
          Single keys do something; switch them off when you speak to the computer.
        </Checkbox>{" "}
        {changed && (
          <button type="button" className="link" onClick={reset}>
            As we set them
          </button>
        )}
      </p>
    </>
  );
}

interface GlossaryProps {
  words: Words;
  /** Terms that the label holds. */
  first: string[];
  asked?: string | undefined;
}

function Glossary({ words, first, asked }: GlossaryProps) {
  const [typed, setTyped] = useState("");
  const wanted = typed.trim().toLowerCase();
  const all = words.vocabulary.glossary.filter(({ term, means }) =>
    wanted === ""
      ? first.length === 0 || first.includes(term)
      : `${term} ${means}`.toLowerCase().includes(wanted),
  );
  return (
    <div>
      {asked === undefined && <h2 className={css.section}>Words of the trade</h2>}
      {asked && first.length === 0 && wanted === "" && (
        <p className="quiet">“{asked}” is no word of its own here. All of them:</p>
      )}
      <Input
        aria-label="Look a word up"
        placeholder="Look a word up"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      <dl className={css.words} aria-label="Words of the trade" tabIndex={0}>
        {all.map(({ term, means, dimension }) => (
          <div key={term}>
            <dt>
              {term} {dimension && <span>{words.symbol(dimension)}</span>}
            </dt>
            <dd>{means}</dd>
          </div>
        ))}
      </dl>
      {all.length === 0 && <p className="quiet">No word fits “{typed}”.</p>}
    </div>
  );
}

/** The terms that a label holds, those that lie within another one left out. */
function meant(label: string, words: Words): string[] {
  const text = label.toLowerCase();
  const held = words.vocabulary.glossary
    .map(({ term }) => term)
    .filter((term) => new RegExp(`\\b${term.toLowerCase()}\\b`).test(text));
  return held.filter(
    (term) =>
      !held.some((other) => other !== term && other.toLowerCase().includes(term.toLowerCase())),
  );
}
