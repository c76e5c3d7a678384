// Something that is shown once: a secret to be taken along now.

import { Button, Modal } from "antd";
import type { ReactNode } from "react";
import css from "./SecretOnce.module.css";

/** Copies a text, also over plain HTTP, where browsers have no clipboard for it. */
async function copy(text: string) {
  if (navigator.clipboard) return navigator.clipboard.writeText(text);
  const code = [...document.querySelectorAll("code")].find((at) => at.textContent === text);
  if (!code) return;
  getSelection()?.selectAllChildren(code);
  document.execCommand("copy");
}

/** What stands in a dialog that shows a secret: what to do with it, and itself. */
export function Secret({ text, children }: { text: string; children: ReactNode }) {
  return (
    <>
      <p>{children}</p>
      <p className={css.secret}>
        <code>{text}</code>
      </p>
      <Button onClick={() => copy(text)}>Copy</Button>
    </>
  );
}

/** The dialog itself, open while there is a secret. */
export function SecretOnce(props: {
  title: string;
  text: string | undefined;
  close: () => void;
  children: ReactNode;
}) {
  return (
    <Modal open={props.text !== undefined} onCancel={props.close} title={props.title} footer={null}>
      <Secret text={props.text ?? ""}>{props.children}</Secret>
    </Modal>
  );
}
