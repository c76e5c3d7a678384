// Asks why a shot is set aside: one key or one tap.

import { Button, Input, Modal } from "antd";
import { useEffect, useState } from "react";
import { v7 as uuid } from "uuid";
import type { Schemas } from "../../app/api";
import { keysAreOn } from "../../app/shortcuts";
import { AnswerKey } from "../../ui/KeyHint";
import { REASONS } from "../../ui/words";
import css from "./SetAside.module.css";

interface Props {
  shot: { id: string; number: number } | undefined;
  cancel: () => void;
  choose: (
    shot: { id: string; number: number },
    id: string,
    reason: Schemas["Reason"],
    note: string,
  ) => void;
}

export function SetAside({ shot, cancel, choose }: Props) {
  const [id, setId] = useState("");
  const [inWords, setInWords] = useState(false);
  const [note, setNote] = useState("");
  const [wordless, setWordless] = useState(false);
  const asked = shot?.id;
  useEffect(() => {
    if (!asked) return;
    setId(uuid());
    setInWords(false);
    setNote("");
    setWordless(false);
  }, [asked]);
  const pick = (reason: Schemas["Reason"]) => {
    if (!shot) return;
    if (reason === "other" && !inWords) setInWords(true);
    else if (reason === "other" && note.trim() === "") setWordless(true);
    else choose(shot, id, reason, note);
  };
  useEffect(() => {
    if (!asked || inWords) return;
    const pressed = (event: KeyboardEvent) => {
      if (!keysAreOn() || event.ctrlKey || event.metaKey || event.altKey) return;
      const reason = REASONS.find((r) => r.letter === event.key.toUpperCase());
      if (!reason) return;
      event.preventDefault();
      pick(reason.key);
    };
    // Wherever the focus is: the question holds the keyboard until it is answered.
    addEventListener("keydown", pressed);
    return () => removeEventListener("keydown", pressed);
  });
  return (
    <Modal
      open={shot !== undefined}
      onCancel={cancel}
      title={`Set shot ${shot?.number ?? ""} aside: why?`}
      footer={null}
      width={420}
      closable={false}
      destroyOnHidden
    >
      <div className={css.reasons}>
        {REASONS.map((reason) => (
          <button
            type="button"
            key={reason.key}
            className={css.reason}
            onClick={() => pick(reason.key)}
          >
            <AnswerKey of={reason.letter} /> {reason.label}
          </button>
        ))}
        {inWords && (
          <form
            onSubmit={(event) => {
              event.preventDefault();
              pick("other");
            }}
          >
            <Input
              aria-label="Reason in words"
              value={note}
              maxLength={500}
              onChange={(e) => setNote(e.target.value)}
              autoFocus
            />
            <Button type="primary" htmlType="submit">
              Set aside
            </Button>
          </form>
        )}
        {wordless && (
          <p className="form-trouble" role="alert">
            The reason is missing: give 1 to 500 characters.
          </p>
        )}
        <button type="button" className={`plain ${css.leave}`} onClick={cancel}>
          <kbd>Esc</kbd> Leave it as it stands
        </button>
      </div>
    </Modal>
  );
}
