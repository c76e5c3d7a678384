// What helps on every page: finding anything, the keys of the page, the words of the trade.

import { lazy, Suspense, useEffect, useState } from "react";
import { asked } from "../../app/shortcuts";
import { KeyHint } from "../../ui/KeyHint";
import { isTyping } from "../../ui/keys";
import css from "./Aids.module.css";
import { useLongPress } from "./long-press";

const finding = () => import("./FindAnything");
const FindAnything = lazy(async () => ({ default: (await finding()).FindAnything }));
const KeysAndWords = lazy(async () => ({
  default: (await import("./KeysAndWords")).KeysAndWords,
}));

/** How long after a page the finder is fetched, when what is looked at is there. */
const PRELOAD_MS = 1500;

/** By keys everywhere; with buttons where there is a bar to hold them. */
export function Aids({ buttons = false }: { buttons?: boolean }) {
  const [open, setOpen] = useState<string>();
  const [word, setWord] = useState<string>();
  const close = () => setOpen(undefined);
  useLongPress((term) => {
    setWord(term);
    setOpen("help");
  });
  // There at once when it is asked for: who types on without looking loses no letter.
  useEffect(() => {
    const soon = setTimeout(finding, PRELOAD_MS);
    return () => clearTimeout(soon);
  }, []);
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      if (isTyping(event) || event.defaultPrevented) return;
      const what = asked("everywhere", event.key);
      if (!what) return;
      event.preventDefault();
      setWord(undefined);
      setOpen(what);
    };
    addEventListener("keydown", pressed);
    return () => removeEventListener("keydown", pressed);
  }, []);
  const show = (what: string) => {
    setWord(undefined);
    setOpen(what);
  };
  return (
    <>
      {buttons && (
        <>
          <button type="button" className={css.find} onClick={() => show("find")}>
            Find <KeyHint of="find" />
          </button>
          <button
            type="button"
            className={css.help}
            aria-label="Keys and words"
            title="Keys of this page, words of the trade"
            onClick={() => show("help")}
          >
            ?
          </button>
        </>
      )}
      <Suspense>
        {open === "find" && <FindAnything close={close} help={() => show("help")} />}
        {open === "help" && <KeysAndWords key={word} word={word} close={close} />}
      </Suspense>
    </>
  );
}
