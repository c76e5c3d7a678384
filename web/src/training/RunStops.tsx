// How a run is cut short: a set left out, no more all-out swings, pain, or the end.

import { Modal } from "antd";
import { useEffect } from "react";
import { keysAreOn } from "../app/shortcuts";
import { AnswerKey } from "../ui/KeyHint";
import css from "./RunPage.module.css";

interface Choice {
  k: string;
  label: string;
  act: () => void;
}

interface Props {
  title: string;
  open: boolean;
  close: () => void;
  choices: Choice[];
}

/** A question that one key or one tap answers. */
export function OneKey({ title, open, close, choices }: Props) {
  const answer = (choice: Choice) => {
    choice.act();
    close();
  };
  useEffect(() => {
    if (!open) return;
    const pressed = (event: KeyboardEvent) => {
      const choice = choices.find((one) => one.k === event.key.toLowerCase());
      if (!keysAreOn() || !choice || event.ctrlKey || event.metaKey || event.altKey) return;
      event.preventDefault();
      event.stopPropagation();
      answer(choice);
    };
    addEventListener("keydown", pressed, { capture: true });
    return () => removeEventListener("keydown", pressed, { capture: true });
  });
  return (
    <Modal open={open} onCancel={close} title={title} footer={null} destroyOnHidden>
      <ul className={css.choices}>
        {choices.map((choice) => (
          <li key={choice.k}>
            <button type="button" onClick={() => answer(choice)}>
              <AnswerKey of={choice.k.toUpperCase()} /> {choice.label}
            </button>
          </li>
        ))}
      </ul>
    </Modal>
  );
}
