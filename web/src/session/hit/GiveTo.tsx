// Gives a ball to another block: "that was not fifty". One key or one tap.

import { Modal } from "antd";
import { useEffect } from "react";
import { keysAreOn } from "../../app/shortcuts";
import { AnswerKey } from "../../ui/KeyHint";
import css from "../read/SetAside.module.css";
import type { Meant } from "./meant";

interface Block {
  id: string;
  label: string;
}

interface Props {
  shot: Meant | undefined;
  /** Blocks that were begun, in order. */
  blocks: Block[];
  cancel: () => void;
  choose: (shot: Meant, block: Block) => void;
}

export function GiveTo({ shot, blocks, cancel, choose }: Props) {
  useEffect(() => {
    if (!shot) return;
    const pressed = (event: KeyboardEvent) => {
      if (!keysAreOn() || event.ctrlKey || event.metaKey || event.altKey) return;
      const block = blocks[Number(event.key) - 1];
      if (!block) return;
      event.preventDefault();
      choose(shot, block);
    };
    // Wherever the focus is: the question holds the keyboard until it is answered.
    addEventListener("keydown", pressed);
    return () => removeEventListener("keydown", pressed);
  });
  return (
    <Modal
      open={shot !== undefined}
      onCancel={cancel}
      title={`Give shot ${shot?.number ?? ""} to which block?`}
      footer={null}
      width={420}
      closable={false}
      destroyOnHidden
    >
      <div className={css.reasons}>
        {blocks.map((block, i) => (
          <button
            type="button"
            key={block.id}
            className={css.reason}
            onClick={() => shot && choose(shot, block)}
          >
            {i < 9 && <AnswerKey of={i + 1} />} {block.label}
          </button>
        ))}
        <button type="button" className={`plain ${css.leave}`} onClick={cancel}>
          <kbd>Esc</kbd> Leave it where it is
        </button>
      </div>
    </Modal>
  );
}
