// A line that may stand on a page: ticked or not, and said in the coach's words.

import { Checkbox, Input } from "antd";
import css from "./PageEditor.module.css";

interface Props {
  ticked: boolean;
  tick: (on: boolean) => void;
  text: string;
  /** What the field is called. */
  label: string;
  write: (text: string) => void;
  /** Back to what was computed, where it was reworded. */
  back?: (() => void) | undefined;
}

export function PageLine({ ticked, tick, text, label, write, back }: Props) {
  return (
    <div className={ticked ? css.line : css.left}>
      <Checkbox
        aria-label={text || "Take this line out"}
        checked={ticked}
        onChange={(e) => tick(e.target.checked)}
      />
      <Input.TextArea
        aria-label={label}
        autoSize
        autoFocus={text === ""}
        value={text}
        onChange={(e) => write(e.target.value)}
      />
      {back && (
        <button type="button" className="text-act" onClick={back}>
          As computed
        </button>
      )}
    </div>
  );
}
